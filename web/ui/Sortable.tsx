import {
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import type { CSSProperties, ReactNode, Ref } from "react";
import styles from "./Sortable.module.css";

interface ListProps<T> {
  readonly items: readonly T[];
  readonly idOf: (item: T) => string;
  /** What a part is called, for whoever hears where it is moved. */
  readonly nameOf: (item: T) => string;
  readonly onMove: (items: T[]) => void;
  readonly children: ReactNode;
}

/** A list whose parts are put in order by dragging or by keyboard. Each part shows its grip by {@link useGrip}. */
export function Sortable<T>({ items, idOf, nameOf, onMove, children }: ListProps<T>) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const place = (id: unknown) => items.findIndex((item) => idOf(item) === id);
    onMove(arrayMove([...items], place(active.id), place(over.id)));
  };
  const at = (id: UniqueIdentifier) => items.findIndex((item) => idOf(item) === id);
  const named = (id: UniqueIdentifier) => (items[at(id)] ? nameOf(items[at(id)]!) : "It");
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${named(active.id)} is taken hold of, at place ${at(active.id) + 1}.`,
    onDragOver: ({ active, over }) =>
      over
        ? `${named(active.id)} is over place ${at(over.id) + 1}.`
        : `${named(active.id)} is over no place.`,
    onDragEnd: ({ active, over }) =>
      over ? `${named(active.id)} is put at place ${at(over.id) + 1}.` : `${named(active.id)} is back.`,
    onDragCancel: ({ active }) => `${named(active.id)} is back at place ${at(active.id) + 1}.`,
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={moved}
      accessibility={{ announcements }}
    >
      <SortableContext items={items.map(idOf)} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

interface Grip {
  readonly ref: Ref<never>;
  readonly style: CSSProperties;
  readonly grip: ReactNode;
}

/** What a part of a {@link Sortable} is placed by, and what it is taken hold of by; `name` is what is moved. */
export function useGrip(id: string, name: string): Grip {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  return {
    ref: setNodeRef as Ref<never>,
    style: { transform: CSS.Transform.toString(transform) ?? "", transition: transition ?? "" },
    grip: (
      <button
        type="button"
        className={styles.grip}
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
      >
        <GripVertical size={16} />
      </button>
    ),
  };
}
