import { useState } from "react";
import { readWhen } from "../../../core/time/read-when.ts";
import { dateTime } from "../../../core/time/words.ts";
import { useActMany } from "../../live/bells-queries.ts";
import { deskNow } from "../../live/clock.ts";
import { useGroups, useMe, usePeople } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import type { ActMany } from "../../wire/bells-schemas.ts";
import { Why } from "../desk/Why.tsx";
import { CadenceMany } from "./CadenceMany.tsx";
import styles from "./List.module.css";

type Act = Doing | "cover" | "wake";

interface BarProps {
  /** Ids of those that are marked. */
  readonly chosen: readonly string[];
  readonly zone: string;
  /** What can be done with them, the most usual first. */
  readonly acts: readonly Act[];
  readonly onDone: () => void;
}

const NAMES: Readonly<
  Record<Act, { readonly name: string; readonly hint?: string; readonly done?: string }>
> = {
  cover: { name: "Cover", hint: "They are yours at once", done: "covered by you" },
  wake: { name: "Wake", hint: "The rules say who gets each", done: "awake again" },
  give: { name: "Give to…" },
  excuse: { name: "Silence" },
  park: { name: "Park" },
  close: { name: "Close" },
};

/** What is done with many leads at once; nothing while none is marked. */
export function ManyBar({ chosen, zone, acts, onDone }: BarProps) {
  const [doing, setDoing] = useState<Doing | null>(null);
  const [cadence, askCadence] = useState(false);
  const { data: me } = useMe();
  const actMany = useActMany();
  const act = async (what: ActMany, said: string) => {
    setDoing(null);
    onDone();
    await actMany(what, said);
  };
  if (chosen.length === 0) return null;
  return (
    <div className={styles.bar} role="toolbar" aria-label="What to do with them">
      <b>
        {chosen.length} {chosen.length === 1 ? "lead" : "leads"}
      </b>
      {acts.map((what, at) => {
        const { name, hint, done } = NAMES[what];
        return (
          <Button
            key={what}
            look={at === 0 ? "strong" : "plain"}
            {...(hint && { hint })}
            onClick={() => {
              if (what === "cover" || what === "wake")
                void act({ ids: [...chosen], do: what }, done ?? "done");
              else setDoing(what);
            }}
          >
            {name}
          </Button>
        );
      })}
      {me?.rights.includes("setup.read") && (
        <Button hint="A plan of calls and messages for each of them" onClick={() => askCadence(true)}>
          Cadence…
        </Button>
      )}
      {cadence && (
        <CadenceMany
          who={{ ids: chosen }}
          onClose={() => askCadence(false)}
          onDone={() => {
            askCadence(false);
            onDone();
          }}
        />
      )}
      <Button look="bare" onClick={onDone}>
        Choose none
      </Button>
      {doing && (
        <DoDialog
          doing={doing}
          ids={chosen}
          zone={zone}
          onClose={() => setDoing(null)}
          onDo={(what, said) => void act(what, said)}
        />
      )}
    </div>
  );
}

interface DoProps {
  readonly doing: Doing;
  readonly ids: readonly string[];
  readonly onDo: (act: ActMany, said: string) => void;
  readonly zone: string;
  readonly onClose: () => void;
}

/** What is asked for before it is done to many. */
type Doing = "give" | "excuse" | "park" | "close";

const TITLES: Readonly<Record<Doing, string>> = {
  give: "Give to whom?",
  excuse: "Why need nothing be done?",
  park: "Why are they parked?",
  close: "Why are they closed?",
};

/** What is asked before many leads are given, excused, parked or closed. */
function DoDialog({ doing, ids, zone, onDo, onClose }: DoProps) {
  const [words, setWords] = useState("");
  const until = words ? readWhen(words, deskNow(), zone) : null;
  const unclear = words !== "" && until === null;
  const { data: me } = useMe();
  const { data: people = [] } = usePeople();
  const { data: groups = [] } = useGroups();
  const [to, setTo] = useState("");
  const [reason, setReason] = useState(doing === "close" ? (me?.closeReasons[0] ?? "") : "");
  const name = people.find((p) => p.id === to)?.name ?? groups.find((g) => g.id === to)?.name;
  const ready = reason.trim() !== "" && !unclear && (doing !== "give" || to !== "");
  const said = { give: `given to ${name}`, excuse: "silenced", park: "parked", close: "closed" }[doing];
  return (
    <Dialog title={`${TITLES[doing]} (${ids.length})`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (!ready) return;
          const more = {
            ...(doing === "give" && { to }),
            ...(until !== null && { until: new Date(until).toISOString() }),
          };
          onDo({ ids: [...ids], do: doing, reason, ...more }, said);
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
        ) : doing === "give" ? (
          <Why reason={reason} onChange={setReason} />
        ) : (
          <Field label="Reason" value={reason} onChange={(e) => setReason(e.target.value)} />
        )}
        {doing === "park" && (
          <Field
            label="Until a day, desk time"
            placeholder="until they do something; or: 1 may, in 3 months"
            value={words}
            error={unclear ? "Not understood. Write it like “1 may” or “in 3 months”." : undefined}
            help={until ? `That is ${dateTime(until, zone, deskNow())}.` : undefined}
            onChange={(e) => setWords(e.target.value)}
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
