import { useMemo, useState } from "react";
import { App } from "../../frame/App.tsx";
import { useInAddress } from "../../live/address.ts";
import { useBoard, useChangeDeal, useEnded } from "../../live/book-queries.ts";
import { useKeys } from "../../live/keys.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Field } from "../../ui/Field.tsx";
import { Tabs } from "../../ui/Tabs.tsx";
import type { Board as BoardData, DealCard } from "../../wire/customer-schemas.ts";
import styles from "./Board.module.css";
import { DealPanel } from "./DealPanel.tsx";
import { DealTable } from "./DealTable.tsx";
import { type BoardFilter, fits, inOrder, type Order, sayWhole } from "./lanes.ts";
import { type Move, ReasonDialog } from "./ReasonDialog.tsx";
import { Wires } from "./Wires.tsx";

/** The deals of the desk: each stage a wire, on which deals drift to the right as they stay. */
export function BoardView() {
  return (
    <App view="Board">
      <Board />
    </App>
  );
}

const NO_FILTER: BoardFilter = { owner: "", source: "", text: "", slips: false };

function Board() {
  const { data: board, error } = useBoard();
  const [chosen, choose] = useInAddress("deal");
  const [as, setAs] = useInAddress("as");
  const [filter, setFilter] = useState(NO_FILTER);
  const [order, setOrder] = useState<Order>("urgency");
  const [moving, setMoving] = useState<Move | null>(null);
  const change = useChangeDeal();
  const look = as === "table" || as === "ended" ? as : "wires";
  const { data: ended = [] } = useEnded(look === "ended");
  useKeys({ escape: () => choose(null), y: () => setFilter((f) => ({ ...f, slips: !f.slips })) });
  const shown = useMemo(
    () =>
      board && {
        ...board,
        columns: board.columns.map((c) => ({
          ...c,
          deals: inOrder(
            c.deals.filter((d) => fits(d, filter)),
            order,
          ),
        })),
      },
    [board, filter, order],
  );
  if (error && !board)
    return (
      <Empty title="The board can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!board || !shown) return <p className={styles.loading}>Looking at the deals …</p>;
  const move = (deal: DealCard, stage: string, reason?: string) => {
    const end = board.ends.find((e) => e.stage === stage);
    if (end && !reason) return setMoving({ deal, end });
    const name = board.columns.find((c) => c.stage === stage)?.name ?? end?.name ?? stage;
    change.mutate({
      id: deal.id,
      body: { stage, fromStage: deal.stage, ...(reason && { reason }) },
      said: `${deal.who} → ${name}.`,
    });
    setMoving(null);
  };
  const all = board.columns.flatMap((c) => c.deals);
  const none = all.length === 0;
  return (
    <main className={styles.page} data-panel={chosen !== null}>
      <div className={styles.main}>
        <Head
          board={shown}
          slipping={all.filter((d) => d.slips.length > 0)}
          filter={filter}
          onFilter={setFilter}
        />
        <div className={styles.tools}>
          <Tabs
            label="Show as"
            chosen={look}
            onChoose={(key) => setAs(key === "wires" ? null : key, { replace: true })}
            tabs={[
              { key: "wires", name: "Wires" },
              { key: "table", name: "Table" },
              { key: "ended", name: "Ended" },
            ]}
          />
          <Filters board={board} filter={filter} onFilter={setFilter} order={order} onOrder={setOrder} />
        </div>
        {none && look !== "ended" ? (
          <Empty title="No deal is open">
            Deals appear here when a lead is handed over: open a qualified lead and press “Hand over”.
          </Empty>
        ) : look === "wires" ? (
          <Wires board={shown} chosen={chosen} onChoose={choose} onMove={move} />
        ) : (
          <DealTable
            deals={
              look === "ended" ? ended.filter((d) => fits(d, filter)) : shown.columns.flatMap((c) => c.deals)
            }
            names={new Map([...board.columns, ...board.ends].map((c) => [c.stage, c.name]))}
            chosen={chosen}
            onChoose={choose}
          />
        )}
      </div>
      {chosen && <DealPanel id={chosen} onClose={() => choose(null)} onMove={move} />}
      {moving && (
        <ReasonDialog
          move={moving}
          onClose={() => setMoving(null)}
          onReason={(r) => move(moving.deal, moving.end.stage, r)}
        />
      )}
    </main>
  );
}

/** What will slip this week, in a sentence; pressing it shows just that. */
function Head({
  board,
  slipping,
  filter,
  onFilter,
}: {
  readonly board: BoardData;
  readonly slipping: readonly DealCard[];
  readonly filter: BoardFilter;
  readonly onFilter: (next: BoardFilter) => void;
}) {
  const sum = board.columns.reduce((total, c) => total + c.sum, 0);
  const expected = board.columns.reduce((total, c) => total + (c.expected ?? 0), 0);
  const known = board.columns.some((c) => c.expected !== null);
  const late = slipping.reduce((total, d) => total + d.value, 0);
  return (
    <header className={styles.head}>
      <h1>Board</h1>
      <p>
        {sayWhole(sum, board.currency)} open
        {known && <>, about {sayWhole(expected, board.currency)} to be expected</>}.
      </p>
      <Button
        className={styles.slips ?? ""}
        aria-pressed={filter.slips}
        shortcut="Y"
        hint="Show only what slips: late, due within a week, or with nothing planned"
        onClick={() => onFilter({ ...filter, slips: !filter.slips })}
      >
        {slipping.length === 0
          ? "Nothing slips"
          : `▲ ${slipping.length} ${slipping.length === 1 ? "deal slips" : "deals slip"}, ${sayWhole(late, board.currency)}`}
      </Button>
    </header>
  );
}

function Filters({
  board,
  filter,
  onFilter,
  order,
  onOrder,
}: {
  readonly board: BoardData;
  readonly filter: BoardFilter;
  readonly onFilter: (next: BoardFilter) => void;
  readonly order: Order;
  readonly onOrder: (next: Order) => void;
}) {
  return (
    <div className={styles.filters}>
      <Field
        label="Find a deal"
        quiet
        type="search"
        placeholder="Who or what"
        value={filter.text}
        onChange={(e) => onFilter({ ...filter, text: e.target.value })}
      />
      <Choice
        label="Whose"
        quiet
        value={filter.owner}
        options={[
          { value: "", label: "Everybody’s" },
          ...board.owners.map((o) => ({ value: o.id, label: o.name })),
        ]}
        onChange={(owner) => onFilter({ ...filter, owner })}
      />
      <Choice
        label="From which source"
        quiet
        value={filter.source}
        options={[
          { value: "", label: "From anywhere" },
          ...board.sources.map((s) => ({ value: s, label: s })),
        ]}
        onChange={(source) => onFilter({ ...filter, source })}
      />
      <Choice
        label="In which order"
        quiet
        value={order}
        options={[
          { value: "urgency", label: "What presses first" },
          { value: "own", label: "In our own order" },
          { value: "value", label: "The largest first" },
        ]}
        onChange={(next) => onOrder(next as Order)}
      />
      <a className={styles.export} href="/api/v1/deals/table" download>
        CSV
      </a>
    </div>
  );
}
