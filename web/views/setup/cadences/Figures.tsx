import { useState } from "react";
import { useBehind, useCadenceFigures } from "../../../live/cadence-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import type { Cadence, CadenceFigures } from "../../../wire/cadence-schemas.ts";
import setup from "../Setup.module.css";
import styles from "./Cadences.module.css";
import { kindSaid } from "./cadence-words.ts";

type Version = CadenceFigures["versions"][number];
interface Asked {
  readonly version: number;
  readonly n: number;
  readonly key: string;
  readonly said: string;
}

const COLUMNS = [
  { key: "now", said: "here now" },
  { key: "sent", said: "sent or set" },
  { key: "skipped", said: "left out" },
  { key: "delivered", said: "delivered" },
  { key: "opened", said: "link opened" },
  { key: "replied", said: "replied" },
  { key: "reached", said: "reached" },
  { key: "booked", said: "booked" },
  { key: "won", said: "bought" },
  { key: "optedOut", said: "opted out" },
] as const;

const WHY: Readonly<Record<string, string>> = {
  reply: "they wrote",
  "call-back": "they called",
  reached: "they were reached",
  booked: "they booked",
  won: "they bought",
  closed: "closed",
  stage: "another stage",
  parked: "parked",
  woken: "came back",
  person: "by hand",
  higher: "another cadence goes first",
  gone: "its version is gone",
};

const percent = (share: number) => `${Math.round(share * 100)} %`;
const range = ({ share, low, high }: { share: number; low: number; high: number }) =>
  `${percent(share)} (${Math.round(low * 100)}–${Math.round(high * 100)})`;

/** What a cadence has come to: by version and touch, each figure leading to its leads. */
export function Figures({ cadence, onBack }: { readonly cadence: Cadence; readonly onBack: () => void }) {
  const { data, error } = useCadenceFigures(cadence.id);
  const [asked, ask] = useState<Asked | null>(null);
  return (
    <>
      <div className={setup.top}>
        <h1>{cadence.name}: what it has come to</h1>
        <Button onClick={onBack}>The plan</Button>
      </div>
      {error && <p className={setup.wrong}>{error.message}</p>}
      {!data && !error && <p className={setup.quiet}>Counting …</p>}
      {data?.versions.length === 0 && (
        <Empty title="Nobody was in it yet">Figures appear as soon as the first lead begins it.</Empty>
      )}
      {data?.against && (
        <p className={styles.against}>
          Replies: version {data.against.versions[0]} beside version {data.against.versions[1]}:{" "}
          <b>
            {data.against.difference >= 0 ? "+" : "−"}
            {Math.abs(Math.round(data.against.difference * 100))} points
          </b>{" "}
          ({Math.round(data.against.low * 100)} to {Math.round(data.against.high * 100)}
          {data.against.low <= 0 && data.against.high >= 0 ? "; too few to say which is better" : ""}).
        </p>
      )}
      {data?.versions.map((v) => (
        <OneVersion key={v.version} version={v} onAsk={ask} />
      ))}
      {data && data.versions.length > 0 && (
        <p className={setup.quiet}>
          Shares with their 95 % interval (Wilson). Replied means before the touch after it. The curve counts
          those who stopped for other reasons as gone, not as still waiting (Aalen–Johansen).
        </p>
      )}
      {asked && <Behind id={cadence.id} asked={asked} onClose={() => ask(null)} />}
    </>
  );
}

function OneVersion({
  version,
  onAsk,
}: {
  readonly version: Version;
  readonly onAsk: (asked: Asked) => void;
}) {
  const { version: n, began, in: now, done, touches, stopped, replied } = version;
  const why = Object.entries(stopped).sort(([, a], [, b]) => b - a);
  return (
    <section aria-label={`Version ${n}`}>
      <h2>Version {n}</h2>
      <p>
        <b>{began}</b> began, <b>{now}</b> in it now, <b>{done}</b> did all of it. Replied:{" "}
        <b>{range(replied)}</b>.
        {why.length > 0 &&
          ` Stopped: ${why.map(([key, count]) => `${WHY[key] ?? key} ${count}`).join(", ")}.`}
      </p>
      <div className={styles.scroll}>
        <table className={styles.table}>
          <thead>
            <tr>
              <th>Touch</th>
              {COLUMNS.map((c) => (
                <th key={c.key}>{c.said}</th>
              ))}
              <th>replied, share</th>
            </tr>
          </thead>
          <tbody>
            {touches.map((t) => (
              <tr key={t.n}>
                <th scope="row">
                  {t.n}. {t.kind ? kindSaid(t.kind) : ""}
                  <small> {t.said}</small>
                </th>
                {COLUMNS.map(({ key, said }) => (
                  <td key={key}>
                    {t[key] > 0 ? (
                      <button
                        type="button"
                        className={styles.figure}
                        aria-label={`${t[key]} ${said} at touch ${t.n}`}
                        onClick={() => onAsk({ version: n, n: t.n, key, said: `Touch ${t.n}: ${said}` })}
                      >
                        {t[key]}
                      </button>
                    ) : (
                      <span className={styles.none}>–</span>
                    )}
                  </td>
                ))}
                <td>{t.sent > 0 ? range(t.shares.replied) : "–"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Curve version={version} />
    </section>
  );
}

/** By which day replies have come. */
function Curve({ version: { replies, replied } }: { readonly version: Version }) {
  if (replies.length < 2) return null;
  const last = replies.at(-1)!;
  const top = Math.max(0.05, ...replies.map((p) => p.high));
  const x = (t: number) => 40 + (t / Math.max(1, last.time)) * 540;
  const y = (s: number) => 110 - (s / top) * 96;
  const step = (value: (p: (typeof replies)[number]) => number) =>
    replies.reduce((d, p, i) => `${d}${i === 0 ? `M${x(0)} ${y(0)}` : ""}H${x(p.time)}V${y(value(p))}`, "");
  return (
    <figure className={styles.curve}>
      <svg
        viewBox="0 0 640 132"
        role="img"
        aria-label={`Replies have come from ${percent(last.share)} within ${Math.ceil(last.time)} days`}
      >
        <line className={styles.axis} x1={40} x2={580} y1={110} y2={110} />
        <path className={styles.band} d={step((p) => p.high)} />
        <path className={styles.band} d={step((p) => p.low)} />
        <path className={styles.line} d={step((p) => p.share)} />
        <text x={586} y={y(last.share) + 4}>
          {percent(last.share)}
        </text>
        <text x={40} y={126}>
          start
        </text>
        <text x={580} y={126} textAnchor="end">
          day {Math.ceil(last.time)}
        </text>
      </svg>
      <figcaption>
        Replied by day, of {replied.n > 0 ? "those who began" : "all"}; thin lines: 95 %.
      </figcaption>
    </figure>
  );
}

function Behind({
  id,
  asked,
  onClose,
}: {
  readonly id: string;
  readonly asked: Asked;
  readonly onClose: () => void;
}) {
  const { data, error } = useBehind(id, asked);
  return (
    <Dialog title={asked.said} onClose={onClose}>
      {error && <p className={setup.wrong}>{error.message}</p>}
      {data?.length === 0 && <p>Nobody any more: they have moved on since.</p>}
      <ul className={styles.behind}>
        {data?.map((lead) => (
          <li key={lead.id}>
            <a href={`/?lead=${lead.id}`}>{lead.name}</a>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
