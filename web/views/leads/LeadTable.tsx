import {
  type ColumnSizingState,
  createColumnHelper,
  getCoreRowModel,
  useReactTable,
} from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState } from "react";
import { Empty } from "../../ui/Empty.tsx";
import type { LeadsPage, Lists } from "../../wire/list-schemas.ts";
import styles from "./Leads.module.css";

type Row = LeadsPage["items"][number];
type Column = Lists["columns"][number];

interface Props {
  readonly rows: readonly Row[];
  readonly columns: readonly Column[];
  readonly sort: string;
  readonly chosen: string | null;
  readonly marked: ReadonlySet<string>;
  readonly onMark: (marked: ReadonlySet<string>) => void;
  readonly onSort: (sort: string) => void;
  readonly onChoose: (id: string) => void;
  /** Its end comes into sight. */
  readonly onEnd: () => void;
  /** Whether it is known that nothing else comes. */
  readonly empty: boolean;
}

/** How high a row is (px), at the desk and on a phone. */
const ROW = 34;
const CARD = 64;
/** How wide a column is where nobody has pulled it (px). */
const WIDE: Readonly<Record<string, number>> = { name: 200, next: 240, said: 280, company: 180, with: 200 };
const WIDTH = 132;
/** Widths are this browser's, by column. */
const WIDTHS = "kb_list_widths";

const helper = createColumnHelper<Row>();

function keptWidths(): ColumnSizingState {
  try {
    return JSON.parse(localStorage.getItem(WIDTHS) ?? "{}") as ColumnSizingState;
  } catch {
    return {};
  }
}

/** Leads in rows of one line, however many: only what is in sight is drawn, and more is fetched as its end comes near. */
export function LeadTable({
  rows,
  columns,
  sort,
  chosen,
  marked,
  onMark,
  onSort,
  onChoose,
  onEnd,
  empty,
}: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const [sizes, setSizes] = useState(keptWidths);
  const [narrow, setNarrow] = useState(false);
  /** The last one that was marked by itself: where a stretch begins. */
  const from = useRef<number | null>(null);
  useEffect(() => {
    const query = matchMedia("(max-width: 760px)");
    const look = () => setNarrow(query.matches);
    look();
    query.addEventListener("change", look);
    return () => query.removeEventListener("change", look);
  }, []);
  useEffect(() => {
    localStorage.setItem(WIDTHS, JSON.stringify(sizes));
  }, [sizes]);
  const defined = useMemo(
    () =>
      columns.map(({ key, name }) =>
        helper.accessor((row) => row.cells?.[key] ?? "", {
          id: key,
          header: name,
          size: WIDE[key] ?? WIDTH,
          minSize: 60,
        }),
      ),
    [columns],
  );
  const table = useReactTable({
    data: rows as Row[],
    columns: defined,
    getRowId: (row) => row.id,
    getCoreRowModel: getCoreRowModel(),
    columnResizeMode: "onChange",
    state: { columnSizing: sizes },
    onColumnSizingChange: setSizes,
  });
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => (narrow ? CARD : ROW),
    overscan: 12,
  });
  const height = narrow ? CARD : ROW;
  useEffect(() => {
    // Rows are as high as the screen is narrow: all are measured anew.
    if (height) virtual.measure();
  }, [height, virtual]);
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  const near = rows.length > 0 && last >= rows.length - 30;
  useEffect(() => {
    if (near) onEnd();
  }, [near, onEnd]);
  const markRow = (at: number, stretch: boolean) => {
    const next = new Set(marked);
    const id = rows[at]!.id;
    const begin = stretch && from.current !== null ? from.current : at;
    const is = !marked.has(id);
    for (let i = Math.min(begin, at); i <= Math.max(begin, at); i++) {
      if (is) next.add(rows[i]!.id);
      else next.delete(rows[i]!.id);
    }
    from.current = at;
    onMark(next);
  };
  const [sorted, reversed] = [sort.replace(/^-/, ""), sort.startsWith("-")];
  const all = rows.length > 0 && marked.size === rows.length;
  const grid = `36px ${table
    .getAllLeafColumns()
    .map((c) => `${c.getSize()}px`)
    .join(" ")}`;
  if (rows.length === 0 && empty)
    return (
      <Empty title="No lead fits">
        Nothing fits the filter. Take a part of it away, or look at all leads.
      </Empty>
    );
  return (
    <div ref={scroller} className={styles.scroller}>
      <table className={styles.table} aria-rowcount={rows.length}>
        <thead>
          <tr style={{ gridTemplateColumns: grid }}>
            <td>
              <input
                type="checkbox"
                aria-label="Mark all that are shown"
                checked={all}
                onChange={() => onMark(all ? new Set() : new Set(rows.map((r) => r.id)))}
              />
            </td>
            {table.getFlatHeaders().map((header) => {
              const column = columns.find((c) => c.key === header.id)!;
              const on = column.sort !== null && column.sort === sorted;
              return (
                <th
                  key={header.id}
                  scope="col"
                  aria-sort={on ? (reversed ? "descending" : "ascending") : undefined}
                >
                  {column.sort === null ? (
                    <span>{column.name}</span>
                  ) : (
                    <button
                      type="button"
                      onClick={() => onSort(on && !reversed ? `-${column.sort}` : column.sort!)}
                    >
                      {column.name}
                      {on && <span aria-hidden="true">{reversed ? " ↑" : " ↓"}</span>}
                    </button>
                  )}
                  {/* biome-ignore lint/a11y/noStaticElementInteractions: widths are pulled by the pointer alone; nothing hangs on them */}
                  <i
                    className={styles.pull}
                    onMouseDown={header.getResizeHandler()}
                    onTouchStart={header.getResizeHandler()}
                    onDoubleClick={() => header.column.resetSize()}
                  />
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody style={{ height: virtual.getTotalSize() }}>
          {items.map((item) => {
            const row = rows[item.index]!;
            return (
              <tr
                key={row.id}
                aria-rowindex={item.index + 1}
                data-chosen={row.id === chosen || undefined}
                data-closed={row.closed !== null || undefined}
                style={{
                  ...(!narrow && { gridTemplateColumns: grid }),
                  height: item.size,
                  transform: `translateY(${item.start}px)`,
                }}
              >
                <td>
                  <input
                    type="checkbox"
                    aria-label={`Mark ${row.cells?.name ?? row.id}`}
                    checked={marked.has(row.id)}
                    onClick={(event) => markRow(item.index, event.shiftKey)}
                    onChange={() => {}}
                  />
                </td>
                {columns.map(({ key }) =>
                  key === "name" ? (
                    <th key={key} scope="row">
                      <button
                        type="button"
                        data-row
                        onClick={() => onChoose(row.id)}
                        // With the sheet open beside, it shows whoever one walks to.
                        onFocus={() => chosen && chosen !== row.id && !narrow && onChoose(row.id)}
                      >
                        {row.cells?.name ?? row.id}
                      </button>
                    </th>
                  ) : (
                    <td key={key} title={row.cells?.[key]}>
                      {row.cells?.[key]}
                    </td>
                  ),
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
