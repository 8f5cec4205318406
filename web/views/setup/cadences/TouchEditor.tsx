import type { Condition } from "../../../../core/condition/tree.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import type { Cadences, Touch } from "../../../wire/cadence-schemas.ts";
import type { RoutingSetup } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";
import styles from "./Cadences.module.css";
import { durationOf, KINDS, spanOf } from "./cadence-words.ts";

interface Props {
  readonly touch: Touch;
  readonly n: number;
  readonly count: number;
  readonly data: Cadences;
  readonly parkInto: readonly { readonly id: string; readonly name: string }[];
  readonly onChange: (touch: Touch) => void;
}

/** What is said to be nothing is left out. */
function without(touch: Touch, change: Partial<Touch>): Touch {
  const all = Object.entries({ ...touch, ...change }).filter(([, v]) => v !== undefined && v !== "");
  return Object.fromEntries(all) as Touch;
}

/** One touch: what it is, when it comes, and under which condition. */
export function TouchEditor({ touch, n, count, data, parkInto, onChange }: Props) {
  const put = (change: { [K in keyof Touch]?: Touch[K] | undefined }) =>
    onChange(without(touch, change as Partial<Touch>));
  return (
    <div className={styles.touch}>
      <div className={styles.fields}>
        <Choice
          label="What"
          value={touch.kind}
          options={KINDS}
          onChange={(kind) => onChange({ kind, after: touch.after, from: touch.from, ...timeOf(touch) })}
        />
        <What touch={touch} data={data} parkInto={parkInto} put={put} />
      </div>
      <When touch={touch} data={data} put={put} />
      {(touch.kind === "call" || touch.kind === "task") && <Waits touch={touch} put={put} />}
      <details open={touch.kind === "if" || !!touch.when}>
        <summary>Only when</summary>
        <ConditionEditor
          condition={(touch.when ?? null) as Condition | null}
          catalogue={data.catalogue as RoutingSetup["catalogue"]}
          onChange={(when) => put({ when: (when ?? undefined) as Touch["when"] })}
        />
        {touch.when && (
          <Choice
            label="Else"
            value={String(touch.otherwise ?? "")}
            options={[
              { value: "", label: "leave it out" },
              ...Array.from({ length: Math.max(0, count - n - 1) }, (_, i) => ({
                value: String(n + 2 + i),
                label: `go on at touch ${n + 2 + i}`,
              })),
            ]}
            onChange={(to) => put({ otherwise: to ? Number(to) : undefined })}
          />
        )}
      </details>
    </div>
  );
}

const timeOf = ({ field, yearly, at, until, zone, days, count }: Touch) =>
  Object.fromEntries(
    Object.entries({ field, yearly, at, until, zone, days, count }).filter(([, v]) => v !== undefined),
  );

type Put = (change: { [K in keyof Touch]?: Touch[K] | undefined }) => void;

function What({
  touch,
  data,
  parkInto,
  put,
}: Pick<Props, "touch" | "data" | "parkInto"> & { readonly put: Put }) {
  switch (touch.kind) {
    case "email":
    case "text":
      return <Message touch={touch} data={data} put={put} />;
    case "call":
      return (
        <>
          <Field
            label="What to say"
            value={touch.note ?? ""}
            onChange={(e) => put({ note: e.target.value })}
          />
          <Choice
            label="Expects"
            value={touch.outcome ?? ""}
            options={[
              { value: "", label: "any outcome" },
              ...data.outcomes.map((o) => ({ value: o.key, label: o.name })),
            ]}
            onChange={(outcome) => put({ outcome: outcome || undefined })}
          />
          <label className={setup.check}>
            <input
              type="checkbox"
              checked={touch.ring ?? false}
              onChange={(e) => put({ ring: e.target.checked || undefined })}
            />
            The owner’s phone rings at its time
          </label>
        </>
      );
    case "task":
    case "alert":
      return (
        <>
          <Field label="What" value={touch.note ?? ""} onChange={(e) => put({ note: e.target.value })} />
          <Choice
            label="Who"
            value={whoKey(touch)}
            options={whoOptions(data)}
            onChange={(key) => put({ who: whoOf(key) })}
          />
        </>
      );
    case "tag":
      return <Field label="Tag" value={touch.note ?? ""} onChange={(e) => put({ note: e.target.value })} />;
    case "list":
      return <Field label="Why" value={touch.note ?? ""} onChange={(e) => put({ note: e.target.value })} />;
    case "park":
      return (
        <>
          <Field label="Reason" value={touch.note ?? ""} onChange={(e) => put({ note: e.target.value })} />
          <Choice
            label="Meanwhile"
            value={touch.planId ?? ""}
            options={[
              { value: "", label: "nothing" },
              ...parkInto.map((p) => ({ value: p.id, label: p.name })),
            ]}
            onChange={(planId) => put({ planId: planId || undefined })}
          />
        </>
      );
    case "close":
      return (
        <Choice
          label="Reason"
          value={touch.note ?? ""}
          options={[
            { value: "", label: "Choose …" },
            ...data.closeReasons.map((r) => ({ value: r, label: r })),
          ]}
          onChange={(note) => put({ note })}
        />
      );
    default:
      return null;
  }
}

function Message({ touch, data, put }: Pick<Props, "touch" | "data"> & { readonly put: Put }) {
  const templates = data.templates.filter((t) => t.channel === touch.kind);
  return (
    <>
      <Choice
        label="Words"
        value={touch.templateId ?? ""}
        options={[
          { value: "", label: "written here" },
          ...templates.map((t) => ({ value: t.id, label: `template: ${t.name}` })),
        ]}
        onChange={(templateId) => put({ templateId: templateId || undefined })}
      />
      {!touch.templateId && touch.kind === "email" && (
        <Field
          label="Subject"
          value={touch.subject ?? ""}
          onChange={(e) => put({ subject: e.target.value })}
        />
      )}
      {!touch.templateId && (
        <div className={styles.whole}>
          <Area
            label="What it says"
            rows={touch.kind === "email" ? 5 : 3}
            value={touch.body ?? ""}
            help="Fields as in templates: {{ lead.first_name }}, {{ owner.name }}, {{ company.name }}."
            onChange={(e) => put({ body: e.target.value })}
          />
        </div>
      )}
    </>
  );
}

function When({ touch, data, put }: Pick<Props, "touch" | "data"> & { readonly put: Put }) {
  const span = spanOf(touch.after) ?? { n: 0, unit: "minutes" as const, before: false };
  const amount = (change: Partial<typeof span>) => put({ after: durationOf({ ...span, ...change }) });
  return (
    <div className={styles.fields}>
      <Field
        label="When"
        type="number"
        min={0}
        max={3650}
        value={span.n}
        onChange={(e) => amount({ n: Number(e.target.value) })}
      />
      <Choice
        label="Unit"
        value={span.unit}
        options={(["minutes", "hours", "days", "weeks", "months"] as const).map((u) => ({
          value: u,
          label: u,
        }))}
        onChange={(unit) => amount({ unit })}
      />
      <Choice
        label="After"
        value={touch.from === "field" ? `${span.before ? "-" : ""}${touch.field ?? ""}` : touch.from}
        options={[
          { value: "before", label: "after the one before" },
          { value: "start", label: "after the start" },
          ...data.dates.flatMap((d) => [
            { value: d.key, label: `after ${d.name}` },
            { value: `-${d.key}`, label: `before ${d.name}` },
          ]),
        ]}
        onChange={(from) =>
          from === "before" || from === "start"
            ? put({
                from,
                field: undefined,
                yearly: undefined,
                after: durationOf({ ...span, before: false }),
              })
            : put({
                from: "field",
                field: from.replace(/^-/, "") as NonNullable<Touch["field"]>,
                after: durationOf({ ...span, before: from.startsWith("-") }),
              })
        }
      />
      <Field
        label="At"
        type="time"
        value={touch.at ?? ""}
        onChange={(e) =>
          put({ at: e.target.value || undefined, ...(!e.target.value && { until: undefined }) })
        }
      />
      {touch.at && (
        <>
          <Field
            label="Up to"
            type="time"
            value={touch.until ?? ""}
            onChange={(e) => put({ until: e.target.value || undefined })}
          />
          <Choice
            label="By whose clock"
            value={touch.zone ?? "desk"}
            options={[
              { value: "desk", label: "the desk’s" },
              { value: "lead", label: "theirs" },
            ]}
            onChange={(zone) => put({ zone })}
          />
        </>
      )}
      <Choice
        label="On which days"
        value={touch.days ?? "any"}
        options={[
          { value: "any", label: "any day" },
          { value: "weekdays", label: "not on weekends" },
          { value: "desk", label: "days the desk opens" },
        ]}
        onChange={(days) => put({ days: days === "any" ? undefined : days })}
      />
      {touch.days && touch.days !== "any" && (
        <Choice
          label="How days count"
          value={touch.count ?? "all-days"}
          options={[
            { value: "all-days", label: "all days, then on to the next allowed" },
            { value: "allowed-days", label: "only allowed days" },
          ]}
          onChange={(count) => put({ count })}
        />
      )}
      {touch.from === "field" && (
        <label className={setup.check}>
          <input
            type="checkbox"
            checked={touch.yearly ?? false}
            onChange={(e) => put({ yearly: e.target.checked || undefined })}
          />
          Every year (29 February: the 28th where there is none)
        </label>
      )}
    </div>
  );
}

function Waits({ touch, put }: { readonly touch: Touch; readonly put: Put }) {
  const way = touch.goesOn ? "on" : touch.waitHours ? "hours" : "waits";
  return (
    <div className={styles.fields}>
      <Choice
        label="The cadence"
        value={way}
        options={[
          { value: "waits", label: "waits until it is done" },
          { value: "hours", label: "waits, but not longer than …" },
          { value: "on", label: "goes on without waiting" },
        ]}
        onChange={(to) =>
          put({
            goesOn: to === "on" ? true : undefined,
            waitHours: to === "hours" ? (touch.waitHours ?? 24) : undefined,
          })
        }
      />
      {way === "hours" && (
        <Field
          label="Hours"
          type="number"
          min={1}
          max={2400}
          value={touch.waitHours ?? 24}
          onChange={(e) => put({ waitHours: Number(e.target.value) })}
        />
      )}
    </div>
  );
}

function whoKey({ who }: Touch): string {
  if (!who || "owner" in who) return "owner";
  if ("person" in who) return `person:${who.person}`;
  if ("role" in who) return `role:${who.role}`;
  return `group:${who.group}`;
}

const ROLES = ["coordinator", "salesperson", "manager", "administrator"] as const;

const whoOptions = (data: Cadences) => [
  { value: "owner", label: "the lead’s owner" },
  ...ROLES.map((role) => ({ value: `role:${role}`, label: `any ${role}`, group: "Roles" })),
  ...data.groups.map((g) => ({ value: `group:${g.id}`, label: g.name, group: "Groups" })),
  ...data.people.map((p) => ({ value: `person:${p.id}`, label: p.name, group: "People" })),
];

function whoOf(key: string): Touch["who"] {
  const [kind, of = ""] = key.split(/:(.*)/s);
  if (kind === "person") return { person: of };
  if (kind === "group") return { group: of };
  const role = ROLES.find((r) => r === of);
  return role ? { role } : undefined;
}

/** A touch that is begun: a call a day after the one before. */
export const newTouch = (): Touch => ({
  kind: "call",
  after: "P1D",
  from: "before",
  days: "desk",
  note: "Call again",
});

export function RemoveTouch({ n, onRemove }: { readonly n: number; readonly onRemove: () => void }) {
  return (
    <Button look="bare" aria-label={`Remove touch ${n}`} onClick={onRemove}>
      Remove
    </Button>
  );
}
