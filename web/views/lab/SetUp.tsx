import { useMemo, useState } from "react";
import { dateBeside, localDate } from "../../../core/time/words.ts";
import { call, Refused } from "../../live/api.ts";
import { useNow } from "../../live/clock.ts";
import { leaveTyped, useKeptTyping } from "../../live/setup-draft.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Field } from "../../ui/Field.tsx";
import type { LabChange, LabChoices, LabDemand, LabExperiment, StartLab } from "../../wire/lab-schemas.ts";
import { Amount } from "./Amount.tsx";
import { Changes } from "./Changes.tsx";
import styles from "./Lab.module.css";

type Side = "a" | "b";
type Made = Extract<LabDemand, { kind: "made" }>;
type Burst = Made["bursts"][number];

/** What is typed before it is run. */
interface Form {
  readonly name: string;
  readonly from: string;
  readonly to: string;
  readonly past: boolean;
  readonly weeks: string;
  readonly times: string;
  readonly growth: string;
  readonly bursts: readonly Burst[];
  readonly runs: string;
  readonly seed: string;
  readonly a: readonly LabChange[];
  readonly b: readonly LabChange[];
}

const EMPTY: Form = {
  name: "",
  from: "",
  to: "",
  past: false,
  weeks: "4",
  times: "1",
  growth: "0",
  bursts: [],
  runs: "20",
  seed: "1",
  a: [],
  b: [],
};

/** The lab is opened with these changes on its other side. */
export function openLabWith(b: readonly LabChange[], name: string): void {
  leaveTyped("lab", { ...EMPTY, b, name });
  location.assign("/lab");
}

export interface LabForm {
  readonly typed: Form;
  readonly put: (change: Partial<Form>) => void;
  /** Begin from an experiment that was run: all but its changes, which are named in its sentences. */
  readonly from: (experiment: LabExperiment) => void;
  readonly forget: () => void;
}

/** The experiment that is being put together, kept over a reload and a look elsewhere. */
export function useLabForm(): LabForm {
  const [typed, keep, forget] = useKeptTyping<Form>("lab", EMPTY);
  return {
    typed,
    put: (change) => keep({ ...typed, ...change }),
    from: ({ asked, changes }) => {
      const { demand } = asked;
      keep({
        ...EMPTY,
        from: asked.from.slice(0, 10),
        to: asked.to.slice(0, 10),
        past: demand.kind === "past",
        ...(demand.kind === "made" && {
          weeks: String(demand.weeks),
          times: String(demand.times),
          growth: String(Math.round(demand.growth * 1000) / 10),
          bursts: demand.bursts,
        }),
        runs: String(asked.runs),
        seed: String(asked.seed),
        a: changes.a,
        b: changes.b,
      });
    },
    forget,
  };
}

/** What is sent for it. */
const toSent = (typed: Form, span: { from: string; to: string }): StartLab => ({
  name: typed.name,
  ...span,
  demand: typed.past
    ? { kind: "past" }
    : {
        kind: "made",
        weeks: Number(typed.weeks),
        times: Number(typed.times),
        growth: Number(typed.growth) / 100,
        bursts: [...typed.bursts],
      },
  runs: Number(typed.runs),
  seed: Number(typed.seed),
  a: [...typed.a],
  b: [...typed.b],
});

/** Why it could not be begun, and by which fields. */
interface Wrong {
  readonly message: string;
  readonly errors: readonly { readonly path: string; readonly message: string }[];
}

const USUAL_DAYS = 56;

/** Put an experiment together, and run it. */
export function SetUp({
  form: { typed, put, forget },
  choices,
  onBegun,
}: {
  readonly form: LabForm;
  readonly choices: LabChoices;
  readonly onBegun: (id: string) => void;
}) {
  const now = useNow();
  const today = localDate(now, choices.zone);
  const span = { from: typed.from || dateBeside(today, 1 - USUAL_DAYS), to: typed.to || today };
  const [sending, setSending] = useState(false);
  const [problem, setProblem] = useState<Wrong | null>(null);
  const wrong = (path: string) => problem?.errors.find((e) => e.path === path)?.message;
  const known = ["from", "to", "runs", "seed", "demand.weeks", "demand.times", "demand.growth"];
  const begin = () => {
    setSending(true);
    setProblem(null);
    call("POST /lab", { body: toSent(typed, span) })
      .then(
        ({ id }) => {
          forget();
          onBegun(id);
        },
        (e: Error) =>
          setProblem({ message: e.message, errors: (e instanceof Refused && e.problem.errors) || [] }),
      )
      .finally(() => setSending(false));
  };
  return (
    <form
      className={styles.setUp}
      aria-label="A new experiment"
      onSubmit={(event) => {
        event.preventDefault();
        begin();
      }}
    >
      <fieldset>
        <legend>Who comes</legend>
        <div className={styles.fields}>
          <Field
            label="Learn from"
            type="date"
            value={span.from}
            max={span.to}
            error={wrong("from")}
            onChange={(e) => put({ from: e.target.value })}
          />
          <Field
            label="to"
            type="date"
            value={span.to}
            min={span.from}
            max={today}
            error={wrong("to")}
            onChange={(e) => put({ to: e.target.value })}
          />
          <Choice
            label="They come"
            value={typed.past ? "past" : "made"}
            options={[
              { value: "made", label: "by chance, such as they" },
              { value: "past", label: "the same, when they came" },
            ]}
            onChange={(value) => put({ past: value === "past" })}
          />
        </div>
        {!typed.past && <MadeDemand typed={typed} put={put} choices={choices} wrong={wrong} />}
      </fieldset>
      <div className={styles.two}>
        <SideOf side="a" typed={typed} put={put} choices={choices} problem={problem} />
        <SideOf side="b" typed={typed} put={put} choices={choices} problem={problem} />
      </div>
      <fieldset>
        <legend>Run it</legend>
        <div className={styles.fields}>
          <Field
            label="Runs of each side"
            type="number"
            min={2}
            max={100}
            value={typed.runs}
            error={wrong("runs")}
            help="More runs, narrower intervals."
            onChange={(e) => put({ runs: e.target.value })}
          />
          <Field
            label="Seed"
            type="number"
            min={1}
            value={typed.seed}
            error={wrong("seed")}
            help="The same seed meets the same chances."
            onChange={(e) => put({ seed: e.target.value })}
          />
          <Field
            label="Call it"
            value={typed.name}
            maxLength={200}
            placeholder="after its first change"
            onChange={(e) => put({ name: e.target.value })}
          />
          <Button look="strong" type="submit" disabled={sending}>
            {sending ? "Reading the record …" : "Run"}
          </Button>
        </div>
        {problem && !known.some(wrong) && <p role="alert">{problem.message}</p>}
      </fieldset>
    </form>
  );
}

function SideOf({
  side,
  typed,
  put,
  choices,
  problem,
}: {
  readonly side: Side;
  readonly typed: Form;
  readonly put: LabForm["put"];
  readonly choices: LabChoices;
  readonly problem: Wrong | null;
}) {
  const changes = typed[side];
  const wrongAt = useMemo(() => {
    const at = new Map<number, string>();
    for (const { path, message } of problem?.errors ?? []) {
      const [where, n] = path.split(".");
      if (where === side) at.set(Number(n), message);
    }
    return at;
  }, [problem, side]);
  return (
    <fieldset>
      <legend>
        <i className={styles[side]}>{side.toUpperCase()}</i>{" "}
        {changes.length === 0 ? "As it is live" : "Live, but for"}
      </legend>
      <Changes
        label={`Changes of ${side.toUpperCase()}`}
        changes={changes}
        choices={choices}
        wrongAt={wrongAt}
        onChange={(next) => put({ [side]: next })}
      />
    </fieldset>
  );
}

/** As many as usual, more of them, growing, and ads that start. */
function MadeDemand({
  typed,
  put,
  choices,
  wrong,
}: {
  readonly typed: Form;
  readonly put: LabForm["put"];
  readonly choices: LabChoices;
  readonly wrong: (path: string) => string | undefined;
}) {
  const { sources } = choices;
  const putBurst = (n: number, change: Partial<Burst>) =>
    put({ bursts: typed.bursts.map((burst, i) => (i === n ? { ...burst, ...change } : burst)) });
  return (
    <>
      <div className={styles.fields}>
        <Field
          label="For weeks"
          type="number"
          min={1}
          max={26}
          value={typed.weeks}
          error={wrong("demand.weeks")}
          onChange={(e) => put({ weeks: e.target.value })}
        />
        <Field
          label="Times as many"
          type="number"
          min={0.05}
          max={200}
          step="any"
          value={typed.times}
          error={wrong("demand.times")}
          onChange={(e) => put({ times: e.target.value })}
        />
        <Field
          label="Growing a week, %"
          type="number"
          min={-50}
          max={100}
          step="any"
          value={typed.growth}
          error={wrong("demand.growth")}
          onChange={(e) => put({ growth: e.target.value })}
        />
        <Button
          disabled={sources.length === 0 || typed.bursts.length >= 20}
          onClick={() =>
            put({
              bursts: [...typed.bursts, { sourceId: sources[0]!.id, afterHours: 34, hours: 3, more: 40 }],
            })
          }
        >
          An ad starts
        </Button>
      </div>
      {typed.bursts.map((burst, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: bursts have no other name, and are typed where they stand
        <div key={n} className={styles.fields}>
          <Choice
            label="More from"
            value={burst.sourceId}
            options={sources.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(sourceId) => putBurst(n, { sourceId })}
          />
          <Amount
            label="so many more"
            least={1}
            value={burst.more}
            onChange={(more) => putBurst(n, { more })}
          />
          <Amount
            label="within hours"
            least={1}
            value={burst.hours}
            onChange={(hours) => putBurst(n, { hours })}
          />
          <Amount
            label="hours after Monday 0:00"
            least={0}
            value={burst.afterHours}
            onChange={(afterHours) => putBurst(n, { afterHours })}
          />
          <Button look="bare" onClick={() => put({ bursts: typed.bursts.filter((_, i) => i !== n) })}>
            Remove
          </Button>
        </div>
      ))}
    </>
  );
}
