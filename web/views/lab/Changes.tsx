import { GROUP_WAYS, type GroupWay } from "../../../core/policy/people.ts";
import type { Weekday } from "../../../core/time/calendar.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Field } from "../../ui/Field.tsx";
import { Menu } from "../../ui/Menu.tsx";
import type { LabChange, LabChoices } from "../../wire/lab-schemas.ts";
import { Amount } from "./Amount.tsx";
import styles from "./Lab.module.css";

type Kind = LabChange["kind"];
type Of<K extends Kind> = Extract<LabChange, { kind: K }>;

interface RowProps<K extends Kind> {
  readonly change: Of<K>;
  readonly choices: LabChoices;
  readonly put: (change: Partial<Of<K>>) => void;
}

/** A kind of change, as it is added and typed. `fresh` gives none where there is nothing to change. */
interface Editor<K extends Kind> {
  readonly name: string;
  readonly fresh: (choices: LabChoices) => Of<K> | null;
  readonly Row: (props: RowProps<K>) => React.ReactNode;
}

const named = (list: readonly { readonly id: string; readonly name: string }[]) =>
  list.map(({ id, name }) => ({ value: id, label: name }));

const DAYS: readonly (readonly [Weekday, string])[] = [
  [1, "Mon"],
  [2, "Tue"],
  [3, "Wed"],
  [4, "Thu"],
  [5, "Fri"],
  [6, "Sat"],
  [7, "Sun"],
];

/** On which days, and from when to when; without times not at all. */
function DaysAndTimes({
  days,
  span,
  none,
  put,
}: {
  readonly days: readonly Weekday[];
  readonly span: readonly [string, string] | null;
  readonly none: string;
  readonly put: (change: { days?: Weekday[]; span?: [string, string] | null }) => void;
}) {
  return (
    <>
      <fieldset className={styles.days}>
        <legend>On</legend>
        {DAYS.map(([day, name]) => (
          <label key={name}>
            <input
              type="checkbox"
              checked={days.includes(day)}
              onChange={(e) =>
                put({ days: e.target.checked ? [...days, day].sort() : days.filter((d) => d !== day) })
              }
            />
            {name}
          </label>
        ))}
      </fieldset>
      <Choice
        label="Times"
        value={span ? "span" : "none"}
        options={[
          { value: "span", label: "from … to …" },
          { value: "none", label: none },
        ]}
        onChange={(value) => put({ span: value === "span" ? ["09:00", "17:00"] : null })}
      />
      {span && (
        <>
          <Field
            label="from"
            type="time"
            required
            value={span[0]}
            onChange={(e) => put({ span: [e.target.value, span[1]] })}
          />
          <Field
            label="to"
            type="time"
            required
            value={span[1]}
            onChange={(e) => put({ span: [span[0], e.target.value] })}
          />
        </>
      )}
    </>
  );
}

const percent = (share: number | null) => (share === null ? "" : String(Math.round(share * 100)));

/** A share in per cent, or minutes, that may be left as the record has it. */
function Maybe({
  label,
  value,
  most,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly most: number;
  readonly onChange: (value: number | null) => void;
}) {
  return (
    <Field
      label={label}
      type="number"
      min={0}
      max={most}
      step="any"
      placeholder="as it is"
      value={value}
      onChange={(e) => onChange(e.target.value === "" ? null : Number(e.target.value))}
    />
  );
}

const EDITORS: { readonly [K in Kind]: Editor<K> } = {
  rules: {
    name: "Other rules",
    fresh: ({ versions: [first] }) => (first && { kind: "rules", of: first.of }) || null,
    Row: ({ change, choices, put }) => (
      <Choice
        label="The rules"
        value={String(change.of)}
        options={choices.versions.map(({ of, name }) => ({ value: String(of), label: name }))}
        onChange={(of) => put({ of: of === "draft" ? "draft" : Number(of) })}
      />
    ),
  },
  offer: {
    name: "Minutes to take an offer",
    fresh: ({ rules: [rule] }) => (rule ? { kind: "offer", ruleId: rule.id, minutes: rule.minutes } : null),
    Row: ({ change, choices, put }) => (
      <>
        <One
          label="Of the rule"
          of={choices.rules}
          value={change.ruleId}
          onChange={(ruleId) => put({ ruleId })}
        />
        <Amount label="minutes" least={1} value={change.minutes} onChange={(minutes) => put({ minutes })} />
      </>
    ),
  },
  way: {
    name: "How a group is asked",
    fresh: ({ groups: [group] }) => (group ? { kind: "way", groupId: group.id, way: group.way } : null),
    Row: ({ change, choices, put }) => (
      <>
        <One
          label="Group"
          of={choices.groups}
          value={change.groupId}
          onChange={(groupId) => put({ groupId })}
        />
        <Choice
          label="is asked by"
          value={change.way}
          options={(Object.keys(GROUP_WAYS) as GroupWay[]).map((way) => ({
            value: way,
            label: GROUP_WAYS[way],
          }))}
          onChange={(way) => put({ way })}
        />
      </>
    ),
  },
  weight: {
    name: "Who is in a group",
    fresh: ({ groups: [group], people: [person] }) =>
      group && person ? { kind: "weight", groupId: group.id, personId: person.id, weight: 1 } : null,
    Row: ({ change, choices, put }) => (
      <>
        <One
          label="Group"
          of={choices.groups}
          value={change.groupId}
          onChange={(groupId) => put({ groupId })}
        />
        <One
          label="Person"
          of={choices.people}
          value={change.personId}
          onChange={(personId) => put({ personId })}
        />
        <Amount
          label="weight, 0 is out"
          least={0}
          value={change.weight}
          onChange={(weight) => put({ weight })}
        />
      </>
    ),
  },
  target: {
    name: "A target",
    fresh: ({ targets: [target] }) =>
      target ? { kind: "target", targetId: target.id, minutes: target.minutes } : null,
    Row: ({ change, choices, put }) => (
      <>
        <One
          label="Target"
          of={choices.targets}
          value={change.targetId}
          onChange={(targetId) => put({ targetId })}
        />
        <Amount label="minutes" least={1} value={change.minutes} onChange={(minutes) => put({ minutes })} />
      </>
    ),
  },
  rung: {
    name: "A rung of a ladder",
    fresh: ({ rungs: [rung] }) =>
      rung ? { kind: "rung", ladderId: rung.ladderId, n: rung.n, fraction: rung.fraction } : null,
    Row: ({ change, choices, put }) => (
      <>
        <Choice
          label="Rung"
          value={`${change.ladderId}/${change.n}`}
          options={choices.rungs.map((r) => ({ value: `${r.ladderId}/${r.n}`, label: r.name }))}
          onChange={(value) => {
            const rung = choices.rungs.find((r) => `${r.ladderId}/${r.n}` === value);
            if (rung) put({ ladderId: rung.ladderId, n: rung.n });
          }}
        />
        <Maybe
          label="% of the target, none leaves it out"
          most={10_000}
          value={percent(change.fraction)}
          onChange={(value) => put({ fraction: value === null ? null : value / 100 })}
        />
      </>
    ),
  },
  hours: {
    name: "Somebody’s hours",
    fresh: ({ people: [person] }) =>
      person ? { kind: "hours", personId: person.id, days: [6], span: ["09:00", "13:00"] } : null,
    Row: ({ change, choices, put }) => (
      <>
        <One
          label="Person"
          of={choices.people}
          value={change.personId}
          onChange={(personId) => put({ personId })}
        />
        <DaysAndTimes days={change.days} span={change.span} none="not there" put={put} />
      </>
    ),
  },
  desk: {
    name: "The desk’s hours",
    fresh: () => ({ kind: "desk", days: [6], span: ["09:00", "17:00"] }),
    Row: ({ change, put }) => <DaysAndTimes days={change.days} span={change.span} none="closed" put={put} />,
  },
  more: {
    name: "One more person",
    fresh: ({ people: [person] }) =>
      person ? { kind: "more", like: person.id, days: [1, 2, 3, 4, 5], span: null } : null,
    Row: ({ change, choices, put }) => (
      <>
        <One label="Like" of={choices.people} value={change.like} onChange={(like) => put({ like })} />
        <DaysAndTimes days={change.days} span={change.span} none="as they are there" put={put} />
      </>
    ),
  },
  away: {
    name: "Somebody leaves",
    fresh: ({ people: [person] }) => (person ? { kind: "away", personId: person.id } : null),
    Row: ({ change, choices, put }) => (
      <One
        label="Without"
        of={choices.people}
        value={change.personId}
        onChange={(personId) => put({ personId })}
      />
    ),
  },
  ceiling: {
    name: "Open leads one may hold",
    fresh: ({ people: [person] }) => (person ? { kind: "ceiling", personId: person.id, open: 40 } : null),
    Row: ({ change, choices, put }) => (
      <>
        <One
          label="Person"
          of={choices.people}
          value={change.personId}
          onChange={(personId) => put({ personId })}
        />
        <Maybe
          label="at most; none is any number"
          most={100_000}
          value={change.open === null ? "" : String(change.open)}
          onChange={(open) => put({ open })}
        />
      </>
    ),
  },
  cadence: {
    name: "A cadence",
    fresh: ({ cadences: [cadence] }) =>
      cadence ? { kind: "cadence", cadenceId: cadence.id, run: "off" } : null,
    Row: ({ change, choices, put }) => (
      <>
        <One
          label="Cadence"
          of={choices.cadences}
          value={change.cadenceId}
          onChange={(cadenceId) => put({ cadenceId })}
        />
        <Choice
          label="runs"
          value={change.run}
          options={[
            { value: "off", label: "not at all" },
            { value: "draft", label: "as drafted" },
          ]}
          onChange={(run) => put({ run })}
        />
      </>
    ),
  },
  reply: {
    name: "First replies",
    fresh: ({ replies }) => ({ kind: "reply", channel: "text", on: true, delayMinutes: replies.text ?? 0 }),
    Row: ({ change, put }) => (
      <>
        <Choice
          label="By"
          value={change.channel}
          options={[
            { value: "text", label: "text" },
            { value: "email", label: "mail" },
          ]}
          onChange={(channel) => put({ channel })}
        />
        <Choice
          label="go out"
          value={change.on ? "on" : "off"}
          options={[
            { value: "on", label: "after" },
            { value: "off", label: "not at all" },
          ]}
          onChange={(on) => put({ on: on === "on" })}
        />
        {change.on && (
          <Amount
            label="minutes"
            least={0}
            value={change.delayMinutes}
            onChange={(delayMinutes) => put({ delayMinutes })}
          />
        )}
      </>
    ),
  },
  habits: {
    name: "How people act",
    fresh: () => ({
      kind: "habits",
      personId: null,
      takes: null,
      passes: null,
      answerMinutes: null,
      handlingMinutes: null,
    }),
    Row: ({ change, choices, put }) => (
      <>
        <Choice
          label="Who"
          value={change.personId ?? ""}
          options={[{ value: "", label: "everybody" }, ...named(choices.people)]}
          onChange={(personId) => put({ personId: personId || null })}
        />
        <Maybe
          label="takes, %"
          most={100}
          value={percent(change.takes)}
          onChange={(v) => put({ takes: v === null ? null : v / 100 })}
        />
        <Maybe
          label="passes, %"
          most={100}
          value={percent(change.passes)}
          onChange={(v) => put({ passes: v === null ? null : v / 100 })}
        />
        <Maybe
          label="answers after, min"
          most={1440}
          value={change.answerMinutes === null ? "" : String(change.answerMinutes)}
          onChange={(answerMinutes) => put({ answerMinutes })}
        />
        <Maybe
          label="a try takes, min"
          most={480}
          value={change.handlingMinutes === null ? "" : String(change.handlingMinutes)}
          onChange={(handlingMinutes) => put({ handlingMinutes })}
        />
      </>
    ),
  },
  reach: {
    name: "How well tries reach",
    fresh: () => ({ kind: "reach", times: 1.2 }),
    Row: ({ change, put }) => (
      <Amount label="times as often" least={0.05} value={change.times} onChange={(times) => put({ times })} />
    ),
  },
};

/** One of what there is, by its name. */
function One({
  label,
  of,
  value,
  onChange,
}: {
  readonly label: string;
  readonly of: Parameters<typeof named>[0];
  readonly value: string;
  readonly onChange: (id: string) => void;
}) {
  return <Choice label={label} value={value} options={named(of)} onChange={onChange} />;
}

/** What is changed on a side, one row each. */
export function Changes({
  label,
  changes,
  choices,
  wrongAt,
  onChange,
}: {
  readonly label: string;
  readonly changes: readonly LabChange[];
  readonly choices: LabChoices;
  /** What is wrong with which of them. */
  readonly wrongAt: ReadonlyMap<number, string>;
  readonly onChange: (changes: readonly LabChange[]) => void;
}) {
  const items = (Object.keys(EDITORS) as Kind[]).map((kind) => {
    const fresh = EDITORS[kind].fresh(choices);
    return {
      label: EDITORS[kind].name,
      disabled: fresh === null || changes.length >= 40,
      run: () => fresh && onChange([...changes, fresh]),
    };
  });
  return (
    <>
      <ul aria-label={label} className={styles.changes}>
        {changes.map((change, n) => {
          const { name, Row } = EDITORS[change.kind] as unknown as Editor<Kind>;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: changes have no other name, and are made in this order
            <li key={`${n}/${change.kind}`}>
              <header>
                <b>{name}</b>
                <Button
                  look="bare"
                  aria-label={`Take out: ${name}`}
                  onClick={() => onChange(changes.filter((_, i) => i !== n))}
                >
                  ×
                </Button>
              </header>
              <div className={styles.fields}>
                <Row
                  change={change}
                  choices={choices}
                  put={(part) =>
                    onChange(changes.map((c, i) => (i === n ? ({ ...c, ...part } as LabChange) : c)))
                  }
                />
              </div>
              {wrongAt.has(n) && <p role="alert">{wrongAt.get(n)}</p>}
            </li>
          );
        })}
      </ul>
      <Menu label="Change something" items={items} />
    </>
  );
}
