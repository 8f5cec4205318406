import {
  type Announcements,
  DndContext,
  type DragEndEvent,
  DragOverlay,
  type KeyboardCoordinateGetter,
  KeyboardSensor,
  MouseSensor,
  pointerWithin,
  rectIntersection,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useMemo, useRef, useState } from "react";
import { Menu } from "../../ui/Menu.tsx";
import type { Board, DealCard } from "../../wire/customer-schemas.ts";
import { lanesOf, type Placed, SLACK_FROM, sayWhole } from "./lanes.ts";
import styles from "./Wires.module.css";

interface Props {
  readonly board: Board;
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
  readonly onMove: (deal: DealCard, stage: string) => void;
}

/** Widths and heights in px, as the styles have them. */
const TAG = 148;
const LANE = 46;
const HEAD = 40;
const GAP = 14;

type Row =
  | { readonly kind: "head"; readonly column: Board["columns"][number]; readonly key: string }
  | {
      readonly kind: "lane";
      readonly stage: string;
      readonly placed: readonly Placed[];
      readonly key: string;
      readonly last: boolean;
    };

/** Where a wire passes into slack: a tag hangs by its left end, and takes room itself. */
const at = (room: number) => `${SLACK_FROM * (1 - room) * 100}%`;

const stageIn = (id: unknown) => String(id).split("\u0000")[0]!;

/** Where the pointer is; at the keyboard, what the tag lies over. */
const under = (args: Parameters<typeof pointerWithin>[0]) => {
  const hit = pointerWithin(args);
  return hit.length > 0 ? hit : rectIntersection(args);
};

/** Arrow up and down go from one place to drop at to the next, in the order of the stages. */
const alongTargets: KeyboardCoordinateGetter = (
  event,
  { context: { droppableRects, over }, currentCoordinates },
) => {
  const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.code];
  if (!by) return undefined;
  event.preventDefault();
  const targets = [...droppableRects].filter(([id]) => String(id).endsWith("\u0000bar"));
  // It begins over the wire it hangs on, and goes on from there.
  const at = targets.findIndex(([id]) => over !== null && stageIn(id) === stageIn(over.id));
  const [, rect] = targets[Math.min(targets.length - 1, Math.max(0, at + by))] ?? [];
  return rect ? { x: rect.left + 8, y: rect.top + 4 } : currentCoordinates;
};

/** The stages as wires, one below the other, however many deals hang there: only what is in sight is drawn. */
export function Wires({ board, chosen, onChoose, onMove }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [held, setHeld] = useState<DealCard | null>(null);
  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setWidth(node.clientWidth));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const narrow = width < 620;
  const room = Math.min(0.9, TAG / Math.max(320, width - 32));
  const now = Date.parse(board.now);
  const rows = useMemo(
    () =>
      board.columns.flatMap((column): Row[] => {
        const head: Row = { kind: "head", column, key: column.stage };
        const lanes = narrow
          ? column.deals.map((deal) => [{ deal, x: 0 }])
          : lanesOf(column.deals, now, room);
        const drawn = lanes.length > 0 ? lanes : [[]];
        return [
          head,
          ...drawn.map(
            (placed, i): Row => ({
              kind: "lane",
              stage: column.stage,
              placed,
              key: `${column.stage}\u0000${i}`,
              last: i === drawn.length - 1,
            }),
          ),
        ];
      }),
    [board.columns, now, room, narrow],
  );
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => {
      const row = rows[i];
      return row?.kind === "head" ? HEAD : row?.last ? LANE + GAP : LANE;
    },
    getItemKey: (i) => rows[i]?.key ?? i,
    overscan: 6,
  });
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 5 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 220, tolerance: 8 } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: alongTargets,
      keyboardCodes: { start: ["Space"], cancel: ["Escape"], end: ["Space", "Enter"] },
    }),
  );
  const all = useMemo(
    () => new Map(board.columns.flatMap((c) => c.deals.map((d) => [d.id, d]))),
    [board.columns],
  );
  const name = (id: unknown) => {
    const stage = stageIn(id);
    return [...board.columns, ...board.ends].find((c) => c.stage === stage)?.name ?? stage;
  };
  const who = (id: unknown) => all.get(String(id))?.who ?? "The deal";
  const announcements: Announcements = {
    onDragStart: ({ active }) =>
      `${who(active.id)} is taken hold of. Arrow keys choose a stage, space drops.`,
    onDragOver: ({ active, over }) =>
      over ? `${who(active.id)} is over ${name(over.id)}.` : `${who(active.id)} is over no stage.`,
    onDragEnd: ({ active, over }) =>
      over ? `${who(active.id)} is dropped on ${name(over.id)}.` : `${who(active.id)} is back.`,
    onDragCancel: ({ active }) => `${who(active.id)} is back where it was.`,
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    const deal = held;
    setHeld(null);
    if (!deal || !over || active.id !== deal.id) return;
    const stage = stageIn(over.id);
    if (stage !== deal.stage) onMove(deal, stage);
  };
  const moves = (deal: DealCard) =>
    [...board.columns, ...board.ends]
      .filter((c) => c.stage !== deal.stage)
      .map((c) => ({ label: c.name, run: () => onMove(deal, c.stage) }));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={under}
      accessibility={{ announcements }}
      onDragStart={({ active }) => setHeld(all.get(String(active.id)) ?? null)}
      onDragCancel={() => setHeld(null)}
      onDragEnd={dropped}
    >
      <div ref={scroller} className={styles.scroller} data-narrow={narrow || undefined} tabIndex={-1}>
        <div className={styles.wires} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index];
            if (!row) return null;
            return (
              <div key={item.key} className={styles.row} style={{ height: item.size, top: item.start }}>
                {row.kind === "head" ? (
                  <Head column={row.column} currency={board.currency} room={room} />
                ) : (
                  <Lane id={row.key} empty={row.placed.length === 0} narrow={narrow} room={room}>
                    {row.placed.map(({ deal, x }) => (
                      <Tag
                        key={deal.id}
                        deal={deal}
                        x={x}
                        chosen={deal.id === chosen}
                        onChoose={onChoose}
                        {...(narrow && { menu: <Menu label="Move" items={moves(deal)} /> })}
                      />
                    ))}
                  </Lane>
                )}
              </div>
            );
          })}
        </div>
      </div>
      <TargetBar board={board} held={held} />
      <DragOverlay dropAnimation={{ duration: 160 }} style={{ pointerEvents: "none" }}>
        {held && (
          <div className={`${styles.tag} ${styles.held}`}>
            <TagWords deal={held} />
          </div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

function Head({
  column,
  currency,
  room,
}: {
  readonly column: Board["columns"][number];
  readonly currency: string;
  readonly room: number;
}) {
  const { name, count, sum, expected, low, high, ended, won, slackDays } = column;
  return (
    <h2 className={styles.head}>
      <span className={styles.stage}>{name}</span>
      <span>
        {count} {count === 1 ? "deal" : "deals"}, {sayWhole(sum, currency)}
      </span>
      <span className={styles.expected}>
        {expected !== null && low !== null && high !== null
          ? `expected ${sayWhole(expected, currency)} (${sayWhole(low, currency)} to ${sayWhole(high, currency)}): ${won} of ${ended} were won from here`
          : `too few have ended from here to say what to expect (${ended})`}
      </span>
      {slackDays !== null && (
        <span className={styles.mark} style={{ left: at(room) }}>
          past {slackDays < 1.5 ? "a day" : `${Math.round(slackDays)} days`}: slack
        </span>
      )}
    </h2>
  );
}

function Lane({
  id,
  empty,
  narrow,
  room,
  children,
}: {
  readonly id: string;
  readonly empty: boolean;
  readonly narrow: boolean;
  readonly room: number;
  readonly children: React.ReactNode;
}) {
  const { setNodeRef, isOver } = useDroppable({ id });
  return (
    <div ref={setNodeRef} className={styles.lane} data-over={isOver || undefined}>
      {!narrow && (
        <svg className={styles.string} aria-hidden="true">
          <line x1="0" x2={at(room)} y1="6" y2="6" />
          <line x1={at(room)} x2="100%" y1="6" y2="6" className={styles.slack} />
          <line x1={at(room)} x2={at(room)} y1="0" y2="46" className={styles.limit} />
        </svg>
      )}
      {empty && <p className={styles.none}>Nothing hangs here.</p>}
      {children}
    </div>
  );
}

const TONES = {
  "expected-past": "ember",
  "step-overdue": "ember",
  long: "ember",
  "expected-soon": "brass",
  "no-step": "brass",
} as const;

/** How a deal stands, by its most pressing slip. */
const toneOf = (deal: DealCard) => (deal.slips[0] ? TONES[deal.slips[0]] : "tarn");

const Tag = memo(function Tag({
  deal,
  x,
  chosen,
  onChoose,
  menu,
}: {
  readonly deal: DealCard;
  readonly x: number;
  readonly chosen: boolean;
  readonly onChoose: (id: string) => void;
  readonly menu?: React.ReactNode;
}) {
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({ id: deal.id });
  const { onKeyDown, ...pointers } = (listeners ?? {}) as {
    onKeyDown?: (event: React.KeyboardEvent) => void;
  };
  return (
    <div className={styles.place} style={{ left: `${x * 100}%` }}>
      <button
        ref={setNodeRef}
        type="button"
        className={styles.tag}
        data-row
        data-tone={toneOf(deal)}
        data-chosen={chosen || undefined}
        data-dragging={isDragging || undefined}
        {...attributes}
        {...pointers}
        aria-label={spoken(deal)}
        onClick={() => onChoose(deal.id)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !isDragging) return onChoose(deal.id);
          onKeyDown?.(event);
        }}
      >
        <TagWords deal={deal} />
      </button>
      {menu}
    </div>
  );
});

const spoken = (deal: DealCard) =>
  [
    deal.who,
    deal.what,
    sayWhole(deal.value, deal.currency),
    `here for ${deal.stay}`,
    ...deal.slipSaid,
    deal.owner && `with ${deal.owner.name}`,
  ]
    .filter(Boolean)
    .join(", ");

function TagWords({ deal }: { readonly deal: DealCard }) {
  const tone = toneOf(deal);
  return (
    <>
      <svg viewBox="0 0 12 12" aria-hidden="true">
        <path d="M6 0 12 6 6 12 0 6Z" />
      </svg>
      <span className={styles.who}>{deal.who}</span>
      <span className={styles.what}>
        {tone === "ember" ? "▲ " : ""}
        {sayWhole(deal.value, deal.currency)} · {deal.stay}
      </span>
    </>
  );
}

/** While a deal is held, every stage and every end is within reach here, also those that are out of sight. */
function TargetBar({ board, held }: { readonly board: Board; readonly held: DealCard | null }) {
  return (
    <div className={styles.bar} data-on={held !== null || undefined} aria-hidden={held === null}>
      {board.columns.map((c) => (
        <Target key={c.stage} stage={c.stage} name={c.name} kind="open" here={held?.stage === c.stage} />
      ))}
      {board.ends.map((e) => (
        <Target
          key={e.stage}
          stage={e.stage}
          name={e.name}
          kind={e.kind}
          here={false}
          said={`${e.lately} in 30 days`}
        />
      ))}
    </div>
  );
}

function Target({
  stage,
  name,
  kind,
  here,
  said,
}: {
  readonly stage: string;
  readonly name: string;
  readonly kind: string;
  readonly here: boolean;
  readonly said?: string;
}) {
  const { setNodeRef, isOver } = useDroppable({ id: `${stage}\u0000bar` });
  return (
    <div
      ref={setNodeRef}
      className={styles.target}
      data-kind={kind}
      data-over={isOver || undefined}
      data-here={here || undefined}
    >
      {name}
      {said && <small>{said}</small>}
    </div>
  );
}
