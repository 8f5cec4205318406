import { memo, type ReactNode } from "react";
import { dateBeside, localDate } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useInAddress } from "../../live/address.ts";
import { useNow } from "../../live/clock.ts";
import type { SpanAsked } from "../../live/figure-queries.ts";
import { useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Tabs } from "../../ui/Tabs.tsx";
import { Behind, useBehindFigure } from "./Behind.tsx";
import { EffortPage } from "./EffortPage.tsx";
import styles from "./Figures.module.css";
import { LetterPage } from "./LetterPage.tsx";
import { PeoplePage } from "./PeoplePage.tsx";
import type { PageProps } from "./page.ts";
import { ResponsePage } from "./ResponsePage.tsx";
import { SourcesPage } from "./SourcesPage.tsx";
import { StaffingPage } from "./StaffingPage.tsx";

const PAGES = [
  { key: "response", name: "Response", Page: ResponsePage },
  { key: "effort", name: "Effort", Page: EffortPage },
  { key: "sources", name: "Sources", Page: SourcesPage },
  { key: "people", name: "People", Page: PeoplePage },
  { key: "staffing", name: "Staffing", Page: StaffingPage },
  { key: "letter", name: "Letter", Page: LetterPage },
] as const;
type PageKey = (typeof PAGES)[number]["key"];

/** Spans one asks for most, in days up to today. */
const SPANS = [
  { value: "28", label: "4 weeks" },
  { value: "56", label: "8 weeks" },
  { value: "182", label: "half a year" },
  { value: "365", label: "a year" },
  { value: "own", label: "these days:" },
] as const;
const USUAL = "56";

/** Looking back: how fast, with what effort, from where, by whom, and with how many. */
export function FiguresView() {
  return (
    <App view="Figures">
      <Pages />
    </App>
  );
}

function Pages() {
  const [page, setPage] = useInAddress("page");
  const { data: queue } = useQueue();
  const span = useSpan(queue?.zone ?? null);
  const chosen = PAGES.find((p) => p.key === page) ?? PAGES[0];
  const { Page } = chosen;
  return (
    <main className={styles.page}>
      <header className={styles.head}>
        <h1>Figures</h1>
        <Tabs<PageKey>
          label="Pages of figures"
          tabs={PAGES.map(({ key, name }) => ({ key, name }))}
          chosen={chosen.key}
          onChoose={(key) => setPage(key, { replace: true })}
        />
        {chosen.key !== "letter" && (
          <Button look="bare" onClick={() => print()}>
            Print
          </Button>
        )}
      </header>
      {queue && (
        <>
          {/* A letter tells of the days up to when it is written. */}
          {chosen.key !== "letter" && <SpanChoice span={span} />}
          <Told from={span.asked.from} to={span.asked.to} key={chosen.key} Page={Page} />
        </>
      )}
    </main>
  );
}

/** Kept as it is while only the clock goes on: charts are drawn again when something of theirs has changed. */
const Told = memo(function Told({
  from,
  to,
  Page,
}: {
  readonly from: string;
  readonly to: string;
  readonly Page: (props: PageProps) => ReactNode;
}) {
  const { behind, open, close } = useBehindFigure();
  const span = { from, to };
  return (
    <>
      <Page
        span={span}
        onBehind={(part, what, under) =>
          open({
            what,
            asked: {
              ...span,
              part,
              ...(under && { by: under.by, ...(under.key !== null && { key: under.key }) }),
            },
          })
        }
      />
      {behind && <Behind {...behind} onClose={close} />}
    </>
  );
});

interface SpanState {
  readonly asked: Required<SpanAsked>;
  readonly chosen: (typeof SPANS)[number]["value"];
  readonly choose: (key: string) => void;
  readonly put: (end: "from" | "to", date: string) => void;
  readonly today: string;
}

function useSpan(zone: string | null): SpanState {
  const [from, setFrom] = useInAddress("from");
  const [to, setTo] = useInAddress("to");
  const now = useNow();
  const today = zone ? localDate(now, zone) : "";
  const back = (days: string) => dateBeside(today, 1 - Number(days));
  const shown = { from: from ?? (today && back(USUAL)), to: to ?? today };
  const named = SPANS.find(
    (s) => s.value !== "own" && today !== "" && shown.from === back(s.value) && shown.to === today,
  );
  return {
    asked: shown,
    chosen: named?.value ?? "own",
    choose: (key) => {
      if (key === "own") return;
      setFrom(key === USUAL ? null : back(key), { replace: true });
      setTo(null, { replace: true });
    },
    put: (end, date) => (end === "from" ? setFrom : setTo)(date, { replace: true }),
    today,
  };
}

function SpanChoice({ span: { asked, chosen, choose, put, today } }: { readonly span: SpanState }) {
  return (
    <p className={styles.span}>
      <Choice label="Leads that came in the last" value={chosen} onChange={choose} options={SPANS} />
      <label>
        from
        <input
          type="date"
          value={asked.from}
          max={asked.to}
          onChange={(e) => e.target.value && put("from", e.target.value)}
        />
      </label>
      <label>
        to
        <input
          type="date"
          value={asked.to}
          min={asked.from}
          max={today}
          onChange={(e) => e.target.value && put("to", e.target.value)}
        />
      </label>
    </p>
  );
}
