import { Temporal } from "temporal-polyfill";
import { deskNow } from "../../../live/clock.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { FullPerson, PeopleSetup } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";
import { WeekHours } from "../WeekHours.tsx";
import styles from "./People.module.css";

interface Props {
  readonly person: FullPerson;
  readonly data: PeopleSetup;
  readonly may: boolean;
  readonly mayGiveRoles: boolean;
  readonly onClose: () => void;
}

type Put = (part: Partial<FullPerson>) => void;

/** One person: who they are, when they work, when they are away and who covers, and what they can have. */
export function PersonEditor({ person, data, may, mayGiveRoles, onClose }: Props) {
  const editing = useEditing(`person:${person.id || "new"}`, person);
  const { draft, put: setDraft } = editing;
  const change = useChange();
  const put: Put = (part) => setDraft({ ...draft, ...part });
  const save = () => {
    const { offDuty: _, ...body } = draft;
    change.mutate({
      call: "POST /setup/people",
      body,
      said: `${draft.name} is saved.`,
      after: () => {
        editing.done();
        onClose();
      },
    });
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <div className={setup.top}>
        <h1>{person.name || "New person"}</h1>
        <Button look="bare" onClick={onClose}>
          Back to everybody
        </Button>
      </div>
      <fieldset className={setup.plain} disabled={!may}>
        <div className={setup.fields}>
          <Field label="Name" value={draft.name} onChange={(e) => put({ name: e.target.value })} />
          <Field
            label="Email"
            type="email"
            value={draft.email}
            onChange={(e) => put({ email: e.target.value })}
          />
          <Field
            label="Phone"
            type="tel"
            value={draft.phone}
            onChange={(e) => put({ phone: e.target.value })}
          />
          <Field
            label="In the team’s chat"
            value={draft.chat}
            onChange={(e) => put({ chat: e.target.value })}
          />
          <Choice
            label={mayGiveRoles ? "Role" : "Role, given by an administrator"}
            value={draft.role}
            options={(mayGiveRoles ? ROLES : ROLES.filter((r) => r.value === draft.role)).map((r) => r)}
            onChange={(role) => put({ role: role as FullPerson["role"] })}
          />
        </div>
        <h2>Hours</h2>
        <WeekHours hours={draft.hours} off="not there" onChange={(hours) => put({ hours })} />
        <h2>Away</h2>
        <Absences draft={draft} data={data} put={put} />
        <h2>What they can have</h2>
        <Skills draft={draft} data={data} put={put} />
      </fieldset>
      <div className={setup.bar}>
        {may && (
          <Button type="submit" look="strong" disabled={change.isPending}>
            Save
          </Button>
        )}
        <Button
          look="bare"
          onClick={() => {
            editing.leave();
            onClose();
          }}
        >
          {may && editing.changed ? "Discard changes" : "Back"}
        </Button>
        {mayGiveRoles && person.id && (
          <Button
            look="bare"
            onClick={() =>
              change.mutate({
                call: "POST /setup/people/[id]/remove",
                params: { id: person.id },

                said: `${person.name} no longer works here. What they did keeps their name.`,
                after: onClose,
              })
            }
          >
            They leave
          </Button>
        )}
      </div>
    </form>
  );
}

const ROLES = [
  { value: "salesperson", label: "salesperson" },
  { value: "coordinator", label: "coordinator" },
  { value: "manager", label: "manager" },
  { value: "administrator", label: "administrator" },
];

interface PartProps {
  readonly draft: FullPerson;
  readonly data: PeopleSetup;
  readonly put: Put;
}

const local = (iso: string, zone: string) =>
  Temporal.Instant.from(iso).toZonedDateTimeISO(zone).toPlainDateTime().toString({ smallestUnit: "minute" });
const instant = (written: string, zone: string) =>
  Temporal.PlainDateTime.from(written).toZonedDateTime(zone).toInstant().toString();

function Absences({ draft, data, put }: PartProps) {
  const { zone } = data;
  const others = data.people.filter((p) => p.id !== draft.id);
  const set = (i: number, part: Partial<FullPerson["absences"][number]>) =>
    put({ absences: draft.absences.map((a, j) => (i === j ? { ...a, ...part } : a)) });
  const cover = [
    { value: "", label: "nobody covers" },
    ...others.map((p) => ({ value: p.id, label: p.name })),
  ];
  const add = () => {
    const day = Temporal.Instant.fromEpochMilliseconds(deskNow())
      .toZonedDateTimeISO(zone)
      .startOfDay()
      .add({ days: 1 });
    const from = day.toInstant().toString();
    const to = day.add({ days: 7 }).toInstant().toString();
    put({
      absences: [
        ...draft.absences,
        { from, to, reason: "holiday", coverId: null, waiting: "goes", after: "back" },
      ],
    });
  };
  return (
    <>
      {draft.absences.map((a, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: an absence has nothing but its place to be told by
        <div key={i} className={styles.absence}>
          <Field
            label="From"
            type="datetime-local"
            value={local(a.from, zone)}
            onChange={(e) => e.target.value && set(i, { from: instant(e.target.value, zone) })}
          />
          <Field
            label="Until"
            type="datetime-local"
            value={local(a.to, zone)}
            onChange={(e) => e.target.value && set(i, { to: instant(e.target.value, zone) })}
          />
          <Field label="Why" value={a.reason} onChange={(e) => set(i, { reason: e.target.value })} />
          <Choice
            label="Covered by"
            value={a.coverId ?? ""}
            options={cover}
            onChange={(id) => set(i, { coverId: id || null })}
          />
          <Choice
            label="What waits on them"
            value={a.waiting}
            options={[
              { value: "goes", label: "goes to whoever covers" },
              { value: "stays", label: "stays" },
            ]}
            onChange={(waiting) => set(i, { waiting: waiting as "goes" | "stays" })}
          />
          <Choice
            label="Afterwards"
            value={a.after}
            options={[
              { value: "back", label: "it comes back" },
              { value: "stays", label: "it stays with cover" },
            ]}
            onChange={(after) => set(i, { after: after as "back" | "stays" })}
          />
          <Button look="bare" onClick={() => put({ absences: draft.absences.filter((_, j) => i !== j) })}>
            Remove
          </Button>
        </div>
      ))}
      <p className={setup.row}>
        <Button onClick={add}>Add an absence</Button>
        <Choice
          label="When they go off duty by hand, covered by"
          value={draft.cover ?? ""}
          options={cover}
          onChange={(id) => put({ cover: id || null })}
        />
      </p>
    </>
  );
}

function Skills({ draft, data, put }: PartProps) {
  const toNumber = (written: string) => (written === "" ? null : Number(written));
  return (
    <>
      <Ticks
        label="Products"
        all="every product"
        list={data.products}
        chosen={draft.products}
        onChange={(products) => put({ products })}
      />
      <Ticks
        label="Languages"
        list={data.languages}
        chosen={draft.languages}
        onChange={(languages) => put({ languages: languages ?? [] })}
      />
      <Ticks
        label="Territories"
        all="every territory"
        list={data.territories}
        chosen={draft.territories}
        onChange={(territories) => put({ territories })}
      />
      {data.groups.length > 0 && (
        <Ticks
          label="Groups"
          list={data.groups.map(({ id, name }) => ({ key: id, name }))}
          chosen={draft.groups}
          onChange={(groups) => put({ groups: groups ?? [] })}
        />
      )}
      <div className={setup.fields}>
        <Field
          label="Open leads at most"
          type="number"
          min={0}
          placeholder="no ceiling"
          value={draft.ceiling ?? ""}
          onChange={(e) => put({ ceiling: toNumber(e.target.value) })}
        />
        <Field
          label="New leads a day at most"
          type="number"
          min={0}
          placeholder="no ceiling"
          value={draft.perDay ?? ""}
          onChange={(e) => put({ perDay: toNumber(e.target.value) })}
        />
      </div>
    </>
  );
}

interface TicksProps {
  readonly label: string;
  /** What it is called when nothing is ruled out; without it something must be chosen. */
  readonly all?: string;
  readonly list: PeopleSetup["products"];
  readonly chosen: readonly string[] | null;
  readonly onChange: (chosen: string[] | null) => void;
}

function Ticks({ label, all, list, chosen, onChange }: TicksProps) {
  return (
    <fieldset className={setup.plain}>
      <legend>{label}</legend>
      <div className={setup.row}>
        {all && (
          <label className={setup.check}>
            <input
              type="checkbox"
              checked={chosen === null}
              onChange={(e) => onChange(e.target.checked ? null : list.map((x) => x.key))}
            />
            {all}
          </label>
        )}
        {chosen !== null &&
          list.map(({ key, name }) => (
            <label key={key} className={setup.check}>
              <input
                type="checkbox"
                checked={chosen.includes(key)}
                onChange={(e) =>
                  onChange(e.target.checked ? [...chosen, key] : chosen.filter((k) => k !== key))
                }
              />
              {name}
            </label>
          ))}
      </div>
    </fieldset>
  );
}
