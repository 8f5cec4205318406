import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { dayTime, duration } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useActMany, useManagersList, useMorning } from "../../live/bells-queries.ts";
import { useNow } from "../../live/clock.ts";
import { useGroups, useMe, usePeople } from "../../live/queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Diamond } from "../../ui/Diamond.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Field } from "../../ui/Field.tsx";
import type { ActMany, ManagersList, MorningSummary } from "../../wire/bells-schemas.ts";

import styles from "./List.module.css";

/** What a manager sees to: what rang, what nobody took, what is stuck; one or many at once. */
export function ListView() {
  return (
    <App view="The list">
      <List />
    </App>
  );
}

type Doing = Exclude<ActMany["do"], "undo" | "cover">;

/** What a part is for, when it is empty. */
const EMPTY: Readonly<Record<string, string>> = {
  rung: "Nothing has rung.",
  passed: "Everything found somebody.",
  nobody: "Nothing waits for the morning.",
  stuck: "Nothing is stuck.",
  stalled: "Every lead is tried as planned.",
  look: "No parked lead is due for a look.",
};

function List() {
  const { data, error } = useManagersList();
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [doing, setDoing] = useState<Doing | null>(null);
  const actMany = useActMany();
  if (error)
    return (
      <Empty title="The list can’t be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  const all = data.parts.flatMap((p) => p.items.map((i) => i.lead.id));
  const chosen = all.filter((id) => picked.has(id));
  const toggle = (ids: readonly string[], on: boolean) => {
    const next = new Set(picked);
    for (const id of ids) on ? next.add(id) : next.delete(id);
    setPicked(next);
  };
  const done = async (act: ActMany, said: string) => {
    setDoing(null);
    setPicked(new Set());
    await actMany(act, said);
  };
  return (
    <main className={styles.view}>
      <div className={styles.main}>
        <div className={styles.top}>
          <h1>The manager’s list</h1>
          <span className={styles.quiet}>
            {all.length === 0
              ? "Nothing needs you."
              : `${all.length} ${all.length === 1 ? "lead needs" : "leads need"} somebody.`}
          </span>
        </div>
        {data.parts.map((part) => (
          <Part key={part.part} part={part} zone={data.zone} picked={picked} onPick={toggle} />
        ))}
        {chosen.length > 0 && (
          <div className={styles.bar} role="toolbar" aria-label="What to do with them">
            <b>
              {chosen.length} {chosen.length === 1 ? "lead" : "leads"}
            </b>
            <Button
              look="strong"
              hint="They are yours at once"
              onClick={() => void done({ ids: chosen, do: "cover" }, "covered by you")}
            >
              Cover
            </Button>
            <Button onClick={() => setDoing("give")}>Give to…</Button>
            <Button onClick={() => setDoing("excuse")}>Silence</Button>
            <Button onClick={() => setDoing("park")}>Park</Button>
            <Button onClick={() => setDoing("close")}>Close</Button>
            <Button look="bare" onClick={() => setPicked(new Set())}>
              Choose none
            </Button>
          </div>
        )}
      </div>
      <aside className={styles.side}>
        <Morning />
        <People people={data.people} />
        <Ages ages={data.ages} />
      </aside>
      {doing && (
        <DoDialog
          doing={doing}
          ids={chosen}
          onClose={() => setDoing(null)}
          onDo={(act, s) => void done(act, s)}
        />
      )}
    </main>
  );
}

interface PartProps {
  readonly part: ManagersList["parts"][number];
  readonly zone: string;
  readonly picked: ReadonlySet<string>;
  readonly onPick: (ids: readonly string[], on: boolean) => void;
}

function Part({ part, zone, picked, onPick }: PartProps) {
  const now = useNow();
  const ids = part.items.map((i) => i.lead.id);
  const every = ids.length > 0 && ids.every((id) => picked.has(id));
  return (
    <section aria-label={part.name} className={styles.part}>
      <h2>
        {ids.length > 0 && (
          <input
            type="checkbox"
            className={styles.tick}
            aria-label={`All of ${part.name}`}
            checked={every}
            onChange={(e) => onPick(ids, e.target.checked)}
          />
        )}
        {part.name} <small>{ids.length}</small>
      </h2>
      {ids.length === 0 && <p className={styles.quiet}>{EMPTY[part.part]}</p>}
      <ul>
        {part.items.map(({ lead, why, since }) => (
          <li key={lead.id} className={styles.row} data-picked={picked.has(lead.id)}>
            <input
              type="checkbox"
              className={styles.tick}
              aria-label={called(lead)}
              checked={picked.has(lead.id)}
              onChange={(e) => onPick([lead.id], e.target.checked)}
            />
            <Diamond
              name={lead.name}
              filled={lead.ownerId !== null}
              tone={part.part === "rung" ? "ember" : "brass"}
            />
            <span className={styles.who}>
              <a data-row href={`/?lead=${lead.id}`}>
                {called(lead)}
              </a>{" "}
              {lead.product}
              <span>{why}</span>
            </span>
            <span className={styles.since}>
              <b>{duration(Math.max(0, now - Date.parse(since)))}</b>
              <small>{dayTime(Date.parse(since), zone, now)}</small>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface DoProps {
  readonly doing: Doing;
  readonly ids: readonly string[];
  readonly onDo: (act: ActMany, said: string) => void;
  readonly onClose: () => void;
}

const TITLES: Readonly<Record<Doing, string>> = {
  give: "Give to whom?",
  excuse: "Why need nothing be done?",
  park: "Why are they parked?",
  close: "Why are they closed?",
};

/** What is asked before many leads are given, excused, parked or closed. */
function DoDialog({ doing, ids, onDo, onClose }: DoProps) {
  const { data: me } = useMe();
  const { data: people = [] } = usePeople();
  const { data: groups = [] } = useGroups();
  const [to, setTo] = useState("");
  const [reason, setReason] = useState(doing === "close" ? (me?.closeReasons[0] ?? "") : "");
  const name = people.find((p) => p.id === to)?.name ?? groups.find((g) => g.id === to)?.name;
  const ready = doing === "give" ? to !== "" : reason.trim() !== "";
  const said = { give: `given to ${name}`, excuse: "silenced", park: "parked", close: "closed" }[doing];
  return (
    <Dialog title={`${TITLES[doing]} (${ids.length})`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) onDo({ ids: [...ids], do: doing, reason, ...(doing === "give" && { to }) }, said);
        }}
      >
        {doing === "give" && (
          <Choice
            label="Person or group"
            value={to}
            options={[
              { value: "", label: "Choose …", disabled: true },
              ...people
                .filter((p) => p.onDuty)
                .map((p) => ({ value: p.id, label: `${p.name}, ${p.openLeads} open`, group: "On duty" })),
              ...groups.map((g) => ({ value: g.id, label: g.name, group: "Groups" })),
              ...people
                .filter((p) => !p.onDuty)
                .map((p) => ({ value: p.id, label: `${p.name}, ${p.offDutyBecause}`, group: "Not on duty" })),
            ]}
            onChange={setTo}
          />
        )}
        {doing === "close" ? (
          <Choice
            label="Reason"
            value={reason}
            options={(me?.closeReasons ?? []).map((r) => ({ value: r, label: r }))}
            onChange={setReason}
          />
        ) : (
          <Field
            label={doing === "give" ? "Reason, for the thread" : "Reason"}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
        )}
        <div className={styles.send}>
          <Button type="submit" look="strong" disabled={!ready}>
            {{ give: "Give", excuse: "Silence", park: "Park", close: "Close" }[doing]}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** How things stand this morning, as it is sent to managers when the desk opens. */
function Morning() {
  const { data } = useMorning();
  const { data: me } = useMe();
  const change = useChange();
  const send = useChange();
  if (!data) return null;
  const put = (part: Partial<MorningSummary>, said: string) => {
    const { on, ways } = { ...data, ...part };
    change.mutate({ call: "POST /morning", body: { on, ways }, said });
  };
  const may = me?.rights.includes("setup.change");
  return (
    <section aria-label="Morning summary" className={styles.morning}>
      <h2>Morning summary</h2>
      {data.parts.map(({ heading, lines }) => (
        <div key={heading}>
          <h3>{heading}</h3>
          <ul>
            {lines.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </div>
      ))}
      <div className={styles.sending}>
        {may && (
          <label>
            <input
              type="checkbox"
              className={styles.tick}
              checked={data.on}
              onChange={(e) =>
                put(
                  { on: e.target.checked },
                  e.target.checked
                    ? "Managers get it as the desk opens."
                    : "It is no longer sent on its own.",
                )
              }
            />
            Sent to managers as the desk opens
          </label>
        )}
        {may &&
          data.on &&
          (["email", "chat"] as const).map((way) => (
            <label key={way}>
              <input
                type="checkbox"
                className={styles.tick}
                checked={data.ways.includes(way)}
                onChange={(e) =>
                  put(
                    { ways: e.target.checked ? [...data.ways, way] : data.ways.filter((w) => w !== way) },
                    "Kept.",
                  )
                }
              />
              by {way}
            </label>
          ))}
        <Button
          look="bare"
          onClick={() =>
            send.mutate({
              call: "POST /morning/send",

              said: ({ sent }) =>
                sent === 0
                  ? "There is no manager to send it to."
                  : `Sent: ${sent} ${sent === 1 ? "message" : "messages"}.`,
            })
          }
        >
          Send it now
        </Button>
      </div>
    </section>
  );
}

function People({ people }: { readonly people: ManagersList["people"] }) {
  return (
    <section aria-label="By person">
      <h2>By person</h2>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>Who</th>
            <th>open</th>
            <th>rung</th>
            <th>stuck</th>
            <th>stopped</th>
          </tr>
        </thead>
        <tbody>
          {people.map((p) => (
            <tr key={p.id}>
              <td>
                {p.name}
                {!p.onDuty && <small> off duty</small>}
              </td>
              <td>{p.open}</td>
              <td className={p.rung > 0 ? styles.ember : undefined}>{p.rung}</td>
              <td>{p.stuck}</td>
              <td>{p.stalled}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Ages({ ages }: { readonly ages: ManagersList["ages"] }) {
  const most = Math.max(1, ...ages.map((a) => a.count));
  return (
    <section aria-label="Open, by age">
      <h2>Open, by age</h2>
      <dl className={styles.ages}>
        {ages.map(({ name, count }) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>
              <i style={{ width: `${(count / most) * 100}%` }} />
              {count}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
