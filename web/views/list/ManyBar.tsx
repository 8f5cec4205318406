import { useState } from "react";
import { readWhen } from "../../../core/time/read-when.ts";
import { dateTime } from "../../../core/time/words.ts";
import { useActMany, useOutlook } from "../../live/bells-queries.ts";
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

type Act = Doing | "cover" | "wake" | "route";

interface BarProps {
  /** Ids of those that are marked. */
  readonly chosen: readonly string[];
  readonly zone: string;
  /** What can be done with them, the most usual first. */
  readonly acts: readonly Act[];
  readonly onDone: () => void;
  /** All that fit what is listed, where more than is marked can be done with at once. */
  readonly all?: { readonly count: number; readonly where: ActMany["where"] } | undefined;
}

type Who = Pick<ActMany, "ids" | "where">;

const NAMES: Readonly<Record<Act, { readonly name: string; readonly hint?: string }>> = {
  cover: { name: "Cover", hint: "They are yours at once" },
  wake: { name: "Wake", hint: "The rules say who gets each" },
  route: { name: "Offer", hint: "The rules say who is offered each" },
  join: { name: "Join…" },
  give: { name: "Give to…" },
  tag: { name: "Tag" },
  defer: { name: "Put off" },
  excuse: { name: "Silence" },
  park: { name: "Park" },
  close: { name: "Close" },
};

/** What is done with many leads at once; nothing while none is marked. */
export function ManyBar({ chosen, zone, acts, onDone, all }: BarProps) {
  const [doing, setDoing] = useState<Doing | null>(null);
  const [cadence, askCadence] = useState(false);
  const [everyone, setEveryone] = useState(false);
  const { data: me } = useMe();
  const actMany = useActMany();
  const act = async (what: ActMany) => {
    setDoing(null);
    setEveryone(false);
    onDone();
    await actMany(what);
  };
  if (chosen.length === 0) return null;
  const takesAll = everyone && all !== undefined;
  const who: Who = takesAll ? { where: all.where ?? null } : { ids: [...chosen] };
  const n = takesAll ? all.count : chosen.length;
  return (
    <div className={styles.bar} role="toolbar" aria-label="What to do with them">
      <b>
        {n.toLocaleString("en")} {n === 1 ? "lead" : "leads"}
      </b>
      {all && all.count > chosen.length && (
        <Button look="bare" aria-pressed={everyone} onClick={() => setEveryone(!everyone)}>
          All {all.count.toLocaleString("en")} of the list
        </Button>
      )}
      {acts.map((what, at) => {
        const { name, hint } = NAMES[what];
        return (
          <Button
            key={what}
            look={at === 0 ? "strong" : "plain"}
            {...(hint && { hint })}
            onClick={() => {
              if (what === "cover" || what === "wake" || what === "route") void act({ ...who, do: what });
              else setDoing(what);
            }}
          >
            {name}
          </Button>
        );
      })}
      {me?.rights.includes("setup.read") && !takesAll && (
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
      <Button
        look="bare"
        onClick={() => {
          setEveryone(false);
          onDone();
        }}
      >
        Choose none
      </Button>
      {doing && (
        <DoDialog
          doing={doing}
          who={who}
          n={n}
          zone={zone}
          onClose={() => setDoing(null)}
          onDo={(what) => void act(what)}
        />
      )}
    </div>
  );
}

interface DoProps {
  readonly doing: Doing;
  readonly who: Who;
  /** How many they are. */
  readonly n: number;
  readonly onDo: (act: ActMany) => void;
  readonly zone: string;
  readonly onClose: () => void;
}

/** What is asked for before it is done to many. */
type Doing = "give" | "excuse" | "park" | "close" | "tag" | "defer" | "join";

const TITLES: Readonly<Record<Doing, string>> = {
  give: "Give to whom?",
  excuse: "Why need nothing be done?",
  park: "Why are they parked?",
  close: "Why are they closed?",
  tag: "Which tags?",
  defer: "Until when?",
  join: "Join each with who is likely the same?",
};
const DO_IT: Readonly<Record<Doing, string>> = {
  give: "Give",
  excuse: "Silence",
  park: "Park",
  close: "Close",
  tag: "Tag",
  defer: "Put off",
  join: "Join them",
};

/** What is asked before something is done with many leads: how many it will change, and how many not and why. */
function DoDialog({ doing, who, n, zone, onDo, onClose }: DoProps) {
  const [words, setWords] = useState("");
  const until = words ? readWhen(words, deskNow(), zone) : null;
  const unclear = words !== "" && until === null;
  const { data: me } = useMe();
  const { data: people = [] } = usePeople();
  const { data: groups = [] } = useGroups();
  const [to, setTo] = useState("");
  const [tags, setTags] = useState("");
  const [off, setOff] = useState(false);
  const [spread, setSpread] = useState("0");
  const [reason, setReason] = useState(doing === "close" ? (me?.closeReasons[0] ?? "") : "");
  const asksReason = doing !== "tag" && doing !== "defer" && doing !== "join";
  const ready =
    !unclear &&
    (!asksReason || reason.trim() !== "") &&
    (doing !== "give" || to !== "") &&
    (doing !== "tag" || tags.trim() !== "") &&
    (doing !== "defer" || until !== null);
  const what: ActMany = {
    ...who,
    do: doing === "tag" && off ? "untag" : doing,
    reason,
    ...(doing === "give" && { to }),
    ...(doing === "tag" && { tags: tags.split(",") }),
    ...(doing === "defer" && { spreadMinutes: Number(spread) || 0 }),
    ...(until !== null && { until: new Date(until).toISOString() }),
  };
  const { data: outlook } = useOutlook(ready ? what : null);
  return (
    <Dialog title={`${TITLES[doing]} (${n.toLocaleString("en")})`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) onDo(what);
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
        {doing === "tag" && (
          <>
            <Field
              label="Tags, separated by commas"
              value={tags}
              autoFocus
              onChange={(e) => setTags(e.target.value)}
            />
            <Choice
              label="Are they put on or taken off?"
              value={off ? "off" : "on"}
              options={[
                { value: "on", label: "put on" },
                { value: "off", label: "taken off" },
              ]}
              onChange={(way) => setOff(way === "off")}
            />
          </>
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
          asksReason && <Field label="Reason" value={reason} onChange={(e) => setReason(e.target.value)} />
        )}
        {(doing === "park" || doing === "defer") && (
          <Field
            label={doing === "park" ? "Until a day, desk time" : "Until, desk time"}
            placeholder={
              doing === "park"
                ? "until they do something; or: 1 may, in 3 months"
                : "tomorrow at 9, next tuesday"
            }
            value={words}
            error={unclear ? "Not understood. Write it like “1 may” or “in 3 months”." : undefined}
            help={until ? `That is ${dateTime(until, zone, deskNow())}.` : undefined}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
        {doing === "defer" && (
          <Field
            label="Spread over, minutes"
            type="number"
            min={0}
            max={20160}
            value={spread}
            help="Each has its own place in it: not all of them are due at once."
            onChange={(e) => setSpread(e.target.value)}
          />
        )}
        {doing === "join" && (
          <p>
            Each that has one other lead proposed as the same person becomes one with it: the open one stays,
            of two the older. All of it can be taken apart again.
          </p>
        )}
        {outlook && (
          <p role="status">
            <b>{outlook.will.toLocaleString("en")}</b> of {n.toLocaleString("en")}.
            {outlook.wont.length > 0 &&
              ` The others stay: ${outlook.wont
                .slice(0, 3)
                .map((w) => `${w.n}, ${w.reason}`)
                .join(" ")}`}
          </p>
        )}
        <div className={styles.send}>
          <Button type="submit" look="strong" disabled={!ready}>
            {DO_IT[doing]}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
