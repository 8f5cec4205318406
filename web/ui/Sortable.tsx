import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
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
  readonly onMove: (items: T[]) => void;
  readonly children: ReactNode;
}

/** A list whose parts are put in order by dragging or by keyboard. Each part shows its grip by {@link useGrip}. */
export function Sortable<T>({ items, idOf, onMove, children }: ListProps<T>) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const place = (id: unknown) => items.findIndex((item) => idOf(item) === id);
    onMove(arrayMove([...items], place(active.id), place(over.id)));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={moved}>
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
