import { useEffect, useMemo, useState } from "react";
import { inWords } from "../../../core/condition/condition.ts";
import { App } from "../../frame/App.tsx";
import { useInAddress } from "../../live/address.ts";
import { useKeys } from "../../live/keys.ts";
import { askedBy, type Shown, useListAct, useListed, useLists } from "../../live/list-queries.ts";
import { useMe, useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { ConditionEditor } from "../../ui/ConditionEditor.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Menu } from "../../ui/Menu.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Lists, SavedList } from "../../wire/list-schemas.ts";
import type { OpenDialog } from "../desk/asked.ts";
import { LeadPane } from "../desk/LeadPane.tsx";
import { ManyBar } from "../list/ManyBar.tsx";
import { ColumnsDialog } from "./ColumnsDialog.tsx";
import styles from "./Leads.module.css";
import { LeadTable } from "./LeadTable.tsx";
import { ListRail } from "./ListRail.tsx";
import { SaveDialog } from "./SaveDialog.tsx";
import { WatchDialog } from "./WatchDialog.tsx";

/** All leads in a table: filtered in plain words, under names one keeps, with the sheet beside. */
export function LeadsView() {
  const [chosen, choose] = useInAddress("lead");
  return (
    <App view="Leads" onOpenLead={choose}>
      <Leads chosen={chosen} onChoose={choose} />
    </App>
  );
}

/** A filter that stands in the address, where a figure has led here; null where none does. */
function whereIn(text: string | null): Shown["where"] {
  try {
    return text === null ? null : (JSON.parse(text) as Shown["where"]);
  } catch {
    return null;
  }
}

const EXPORTS = [
  { format: "csv", label: "CSV table" },
  { format: "json", label: "JSON" },
  { format: "vcf", label: "vCards" },
] as const;

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** What a list shows: as it was kept, or everybody by the latest. */
const shownBy = (list: SavedList | undefined, { usual }: Lists): Shown =>
  list
    ? { where: list.where as Shown["where"], columns: list.columns, sort: list.sort }
    : { where: null, columns: usual, sort: "recent" };

interface Props {
  readonly chosen: string | null;
  readonly onChoose: (id: string | null, how?: { readonly replace?: boolean }) => void;
}

function Leads({ chosen, onChoose }: Props) {
  const { data: lists, error } = useLists();
  const { data: me } = useMe();
  const { data: queue } = useQueue();
  const [listId, setList] = useInAddress("list");
  const [where, setWhere] = useInAddress("where");
  /** What was changed of the list that lies open, until it is kept or another is opened. */
  const [changed, change] = useState<{ of: string | null; shown: Shown } | null>(null);
  const [dialog, setDialog] = useState<"columns" | "save" | "watch" | null>(null);
  const [filtering, setFiltering] = useState(false);
  const [asked, setAsked] = useState<OpenDialog | null>(null);
  const [marked, mark] = useState<ReadonlySet<string>>(new Set());
  const say = useSay();
  const { look } = useListAct();
  const list = lists?.items.find((l) => l.id === listId);
  const kept = useMemo(
    () =>
      lists ? { ...shownBy(list, lists), ...(!list && where !== null && { where: whereIn(where) }) } : null,
    [lists, list, where],
  );
  const shown = changed && changed.of === (list?.id ?? null) ? changed.shown : kept;
  const {
    data,
    hasNextPage,
    isFetchingNextPage,
    fetchNextPage,
    error: wrong,
    isPlaceholderData,
  } = useListed(shown);
  const rows = useMemo(() => data?.pages.flatMap((page) => page.items) ?? [], [data]);
  const { mutate: lookAt } = look;
  const isList = list?.id;
  // A list that lies open has been looked at: what comes from now on is new the next time.
  useEffect(() => {
    if (isList) lookAt({ id: isList });
  }, [isList, lookAt]);
  useKeys({
    u: () => void (say.undoLast() || say.done("There is nothing to undo here.")),
    l: () => setFiltering((is) => !is),
  });
  if (error && !lists)
    return (
      <Empty title="Leads can't be listed">
        <p>{error.message}</p>
      </Empty>
    );
  if (!lists || !shown || !me || !queue) return <p className={styles.loading}>Looking at the leads …</p>;
  const put = (more: Partial<Shown>) => {
    mark(new Set());
    change({ of: list?.id ?? null, shown: { ...shown, ...more } });
  };
  const open = (id: string | null) => {
    change(null);
    setWhere(null, { replace: true });
    mark(new Set());
    setList(id);
  };
  const count = data?.pages[0]?.count;
  const watched = list && (list.tell.enters || list.tell.over !== null);
  const names = new Map(lists.columns.map((c) => [c.key, c]));
  const label = (field: string, value: string) =>
    lists.catalogue
      .find((f) => f.key === field)
      ?.choices.find((c) => c.value.toLowerCase() === value.toLowerCase())?.label ?? value;
  const everybodys = me.rights.includes("leads.all") ? "Every lead there is." : "Every lead that is yours.";
  const after = (id: string | null) => rows[rows.findIndex((r) => r.id === id) + 1]?.id ?? null;
  return (
    <main className={styles.page} data-sheet={chosen !== null}>
      <ListRail lists={lists.items} chosen={list?.id ?? null} onOpen={open} />
      <div className={styles.main}>
        <header className={styles.head}>
          <h1>{list?.name ?? (where === null ? "All leads" : "Leads")}</h1>
          <p role="status" className={styles.count}>
            {count === undefined ? "" : count === null ? "very many" : count.toLocaleString("en")}
            {isPlaceholderData && " …"}
          </p>
          <p className={styles.said}>{shown.where ? `Where ${inWords(shown.where, label)}.` : everybodys}</p>
          <div className={styles.tools}>
            <Button shortcut="L" aria-expanded={filtering} onClick={() => setFiltering(!filtering)}>
              Filter
            </Button>
            <Button onClick={() => setDialog("columns")}>Columns</Button>
            {!same(shown, kept) && (
              <Button look="bare" onClick={() => change(null)}>
                As it was
              </Button>
            )}
            <Button look={same(shown, kept) ? "plain" : "strong"} onClick={() => setDialog("save")}>
              {list ? "Keep" : "Keep as a list"}
            </Button>
            {list && <Button onClick={() => setDialog("watch")}>{watched ? "Watched" : "Watch"}</Button>}
            <Menu
              label="Export"
              items={EXPORTS.map(({ format, label }) => ({
                label,
                run: () => location.assign(`/api/v1/leads.${format}?${new URLSearchParams(askedBy(shown))}`),
              }))}
            />
          </div>
        </header>
        {filtering && (
          <section className={styles.filter} aria-label="Filter">
            <ConditionEditor
              condition={shown.where}
              catalogue={lists.catalogue}
              onChange={(where) => put({ where })}
            />
          </section>
        )}
        {wrong && (
          <p role="alert" className={styles.wrong}>
            {wrong.message}
          </p>
        )}
        <LeadTable
          rows={rows}
          columns={shown.columns.flatMap((key) => names.get(key) ?? [])}
          sort={shown.sort}
          chosen={chosen}
          marked={marked}
          onMark={mark}
          onSort={(sort) => put({ sort })}
          onChoose={(id) => onChoose(id, { replace: chosen !== null })}
          onEnd={() => hasNextPage && !isFetchingNextPage && void fetchNextPage()}
          empty={data !== undefined && !wrong}
        />
        {me.rights.includes("leads.move") && (
          <ManyBar
            chosen={[...marked]}
            zone={queue.zone}
            acts={["give", "tag", "defer", "park", "excuse", "close", "route", "join"]}
            all={count ? { count, where: shown.where } : undefined}
            onDone={() => mark(new Set())}
          />
        )}
      </div>
      {chosen && (
        <LeadPane
          leadId={chosen}
          zone={queue.zone}
          asked={asked}
          onAsk={setAsked}
          onDone={() => onChoose(after(chosen), { replace: true })}
          onBack={() => onChoose(null)}
        />
      )}
      {dialog === "columns" && (
        <ColumnsDialog
          all={lists.columns}
          chosen={shown.columns}
          onChange={(columns) => put({ columns })}
          onClose={() => setDialog(null)}
        />
      )}
      {dialog === "watch" && list && (
        <WatchDialog list={list} zone={queue.zone} onClose={() => setDialog(null)} />
      )}
      {dialog === "save" && (
        <SaveDialog
          list={list}
          shown={shown}
          mayShare={me.rights.includes("leads.all")}
          onClose={() => setDialog(null)}
          onSaved={open}
        />
      )}
    </main>
  );
}
