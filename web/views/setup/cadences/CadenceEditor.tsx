import { useState } from "react";
import type { Condition } from "../../../../core/condition/tree.ts";
import { useInAddress } from "../../../live/address.ts";
import { usePreview } from "../../../live/cadence-queries.ts";
import { freshId } from "../../../live/fresh-id.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Field } from "../../../ui/Field.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { Cadence, CadencePlan, Cadences, Entry, Touch } from "../../../wire/cadence-schemas.ts";
import type { RoutingSetup } from "../../../wire/routing-schemas.ts";
import { LeadChoice } from "../LeadChoice.tsx";
import setup from "../Setup.module.css";
import styles from "./Cadences.module.css";
import { kindSaid, whatSaid, whenSaid } from "./cadence-words.ts";
import { Score } from "./Score.tsx";
import { newTouch, RemoveTouch, TouchEditor } from "./TouchEditor.tsx";

interface Props {
  /** Null for one that is begun. */
  readonly cadence: Cadence | null;
  readonly data: Cadences;
  readonly onOpen: (id: string) => void;
  readonly onFigures: () => void;
}

const BLANK: CadencePlan = {
  name: "New cadence",
  reason: "follow-up",
  touches: [newTouch()],
  stops: ["reply", "call-back", "reached", "booked", "won", "closed"],
  enters: [],
  spreadMinutes: 0,
  precedence: 10,
  byHandHours: 24,
};

/** The plan alone, without what is told of the cadence besides. */
function planOf(cadence: Cadence): CadencePlan {
  const {
    id: _,
    version,
    state,
    drafted,
    live,
    publishedAt,
    problem,
    in: __,
    standing,
    upgradable,
    ...plan
  } = cadence;
  return plan;
}

/** A cadence as it is worked on: drawn as a score, listed below, each touch opened in place. */
export function CadenceEditor({ cadence, data, onOpen, onFigures }: Props) {
  const inForce = cadence ? planOf(cadence) : BLANK;
  const [typed, setDraft] = useSetupDraft<CadencePlan>(`cadence:${cadence?.id ?? "new"}`, inForce);
  const draft = typed ?? inForce;
  const changed = cadence === null || JSON.stringify(draft) !== JSON.stringify(inForce);
  const change = useChange();
  const say = useSay();
  const [touch, openTouch] = useInAddress("touch");
  const chosen = touch ? Number(touch) : null;
  const choose = (n: number | null) => openTouch(n === null ? null : String(n), { replace: true });
  const put = (part: Partial<CadencePlan>) => setDraft({ ...draft, ...part });
  const parkInto = data.cadences
    .filter((c) => c.live?.reason === "parked")
    .map(({ id, name }) => ({ id, name }));
  const keep = () =>
    change.mutateAsync({
      call: "POST /setup/cadences",
      body: { ...draft, ...(cadence && { id: cadence.id }) },
      said: changed ? "Kept as a draft: nothing goes by it yet." : "",
    });
  const kept = async () => {
    const saved = await keep();
    setDraft(null);
    onOpen(saved.id);
    return saved;
  };
  const publish = async () => {
    const saved = changed ? await kept() : cadence;
    if (!saved) return;
    change.mutate({
      call: "POST /setup/cadences/[id]/publish",
      params: { id: saved.id },
      said: (now) =>
        now.left > 0
          ? `In force as version ${now.version}. ${now.left} ${now.left === 1 ? "lead goes" : "leads go"} on by the version they began with.`
          : `In force as version ${now.version}.`,
    });
  };
  const discard = () => {
    if (!cadence || (changed && !cadence.drafted)) {
      const before = draft;
      setDraft(null);
      say.done("Changes discarded.", () => setDraft(before));
      return;
    }
    const before = planOf(cadence);
    change.mutate({
      call: "POST /setup/cadences/[id]/discard",
      params: { id: cadence.id },
      said: "",
      after: () =>
        say.done("The draft is discarded.", () =>
          change.mutate({
            call: "POST /setup/cadences",
            body: { ...before, id: cadence.id },
            said: "The draft is back.",
          }),
        ),
    });
  };
  return (
    <>
      <div className={setup.top}>
        <h1>{draft.name || "A cadence"}</h1>
        {cadence && cadence.version > 0 && <Button onClick={onFigures}>Figures</Button>}
      </div>
      {cadence && <Stands cadence={cadence} />}
      <Drawn id={cadence?.id ?? "new"} draft={draft} chosen={chosen} onChoose={choose} />
      <Touches draft={draft} data={data} parkInto={parkInto} chosen={chosen} onChoose={choose} put={put} />
      <Ends draft={draft} data={data} cadence={cadence} put={put} />
      {(changed || cadence?.drafted) && (
        <div className={setup.bar}>
          <Button look="strong" disabled={change.isPending} onClick={() => void publish()}>
            Publish
          </Button>
          {changed && (
            <Button disabled={change.isPending} onClick={() => void kept()}>
              Keep as a draft
            </Button>
          )}
          <Button look="bare" onClick={discard}>
            {changed ? "Discard changes" : "Discard the draft"}
          </Button>
          {!changed && cadence?.problem && <span className={setup.wrong}>{cadence.problem.message}</span>}
        </div>
      )}
    </>
  );
}

/** How many stand where, and who could go on by the newest version. */
function Stands({ cadence }: { readonly cadence: Cadence }) {
  const change = useChange();
  if (cadence.in === 0)
    return (
      <p className={setup.quiet}>
        {cadence.state === "draft" ? "A draft: nobody gets in yet." : "Nobody is in it now."}
      </p>
    );
  const older = cadence.standing.filter((s) => s.version !== cadence.version);
  return (
    <p className={setup.quiet}>
      <b>{cadence.in}</b> in it now:{" "}
      {cadence.standing
        .map(
          (s) =>
            `${s.running + s.paused} at touch ${s.n + 1}${s.version !== cadence.version ? ` of version ${s.version}` : ""}${s.paused ? ` (${s.paused} paused)` : ""}`,
        )
        .join(", ")}
      .{" "}
      {older.length > 0 && cadence.upgradable > 0 && (
        <Button
          look="bare"
          onClick={() =>
            change.mutate({
              call: "POST /setup/cadences/[id]/upgrade",
              params: { id: cadence.id },
              said: ({ moved }) =>
                `${moved} ${moved === 1 ? "lead goes" : "leads go"} on by the newest version.`,
            })
          }
        >
          Move the {cadence.upgradable} who have passed no changed touch
        </Button>
      )}
    </p>
  );
}

interface DrawnProps {
  readonly id: string;
  readonly draft: CadencePlan;
  readonly chosen: number | null;
  readonly onChoose: (n: number) => void;
}

/** The score with the true dates, for a lead and a start, and what is to be looked at before it is published. */
function Drawn({ id, draft, chosen, onChoose }: DrawnProps) {
  const [leadId, setLead] = useState<string | null>(null);
  const [start, setStart] = useState("");
  const startAt = start ? new Date(start).toISOString() : null;
  const { data: preview, error } = usePreview(id, draft, startAt, leadId);
  return (
    <section aria-label="Preview" className={styles.preview}>
      {error && <p className={setup.wrong}>{error.message}</p>}
      {preview && (
        <Score preview={preview} again={draft.then?.again ?? null} chosen={chosen} onChoose={onChoose} />
      )}
      <div className={styles.fields}>
        <LeadChoice leadId={leadId} onChange={setLead} />
        <Field
          label="Begins"
          type="datetime-local"
          value={start}
          help="Now when nothing is said."
          onChange={(e) => setStart(e.target.value)}
        />
      </div>
      {preview && preview.warnings.length > 0 && (
        <ul className={styles.warnings}>
          {preview.warnings.map((w) => (
            <li key={w}>▲ {w}</li>
          ))}
        </ul>
      )}
      {preview && (
        <details>
          <summary>Every touch with its date and words</summary>
          <ol className={styles.dates}>
            {preview.touches.map((t, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a touch is told by its place alone
              <li key={i}>
                <b>{t.when}</b> {t.n}. {kindSaid(t.kind)}
                {t.held && <em> ({t.held})</em>}:{" "}
                {t.skipped ? <s>{t.skipped}</s> : [t.subject, t.said].filter(Boolean).join(" · ")}
              </li>
            ))}
          </ol>
          <p className={setup.quiet}>
            Automatic texts go from {preview.quiet.from} to {preview.quiet.to} where they are; calls and tasks
            are taken to be done at their time.
          </p>
        </details>
      )}
    </section>
  );
}

interface TouchesProps {
  readonly draft: CadencePlan;
  readonly data: Cadences;
  readonly parkInto: readonly { readonly id: string; readonly name: string }[];
  readonly chosen: number | null;
  readonly onChoose: (n: number | null) => void;
  readonly put: (part: Partial<CadencePlan>) => void;
}

const ids = new WeakMap<Touch, string>();
/** What a touch is told by while it is moved about: it has no name of its own. */
function idOf(touch: Touch): string {
  const known = ids.get(touch) ?? freshId("t");
  ids.set(touch, known);
  return known;
}

function Touches({ draft, data, parkInto, chosen, onChoose, put }: TouchesProps) {
  const { touches } = draft;
  const say = useSay();
  const change = (at: number, touch: Touch) => {
    ids.set(touch, idOf(touches[at]!));
    put({ touches: touches.map((t, i) => (i === at ? touch : t)) });
  };
  const remove = (at: number) => {
    const before = touches;
    put({ touches: touches.filter((_, i) => i !== at) });
    onChoose(null);
    say.done(`Touch ${at + 1} is taken out.`, () => put({ touches: before }));
  };
  return (
    <section aria-label="Touches">
      <div className={setup.top}>
        <h2>Touches</h2>
        <Button
          onClick={() => {
            put({ touches: [...touches, newTouch()] });
            onChoose(touches.length + 1);
          }}
        >
          Add a touch
        </Button>
      </div>
      <Sortable
        items={touches}
        idOf={idOf}
        nameOf={(t) => `touch ${touches.indexOf(t) + 1}`}
        onMove={(next) => put({ touches: next })}
      >
        <ol className={styles.touches}>
          {touches.map((touch, i) => (
            <TouchRow
              key={idOf(touch)}
              touch={touch}
              n={i}
              count={touches.length}
              data={data}
              parkInto={parkInto}
              open={chosen === i + 1}
              onOpen={() => onChoose(chosen === i + 1 ? null : i + 1)}
              onChange={(next) => change(i, next)}
              onRemove={() => remove(i)}
            />
          ))}
        </ol>
      </Sortable>
    </section>
  );
}

interface TouchRowProps {
  readonly touch: Touch;
  readonly n: number;
  readonly count: number;
  readonly data: Cadences;
  readonly parkInto: readonly { readonly id: string; readonly name: string }[];
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly onChange: (touch: Touch) => void;
  readonly onRemove: () => void;
}

function TouchRow({ touch, n, count, data, parkInto, open, onOpen, onChange, onRemove }: TouchRowProps) {
  const { grip, ...place } = useGrip(idOf(touch), `touch ${n + 1}`);
  return (
    <li className={styles.touchRow} data-open={open || undefined} {...place}>
      {grip}
      <div className={styles.touchBody}>
        <button type="button" className={setup.open} data-row aria-expanded={open} onClick={onOpen}>
          {n + 1}. {kindSaid(touch.kind)}
          {whatSaid(touch, data) && `: ${whatSaid(touch, data)}`}
        </button>
        <p className={setup.quiet}>
          {whenSaid(touch, data)}
          {touch.when ? "; only when its condition holds" : ""}
          {touch.goesOn ? "; goes on without waiting" : ""}
        </p>
        {open && (
          <TouchEditor
            touch={touch}
            n={n}
            count={count}
            data={data}
            parkInto={parkInto}
            onChange={onChange}
          />
        )}
      </div>
      <RemoveTouch n={n + 1} onRemove={onRemove} />
    </li>
  );
}

const STOPS = [
  { key: "reply", said: "they write" },
  { key: "call-back", said: "they call" },
  { key: "reached", said: "they are reached" },
  { key: "booked", said: "they book a call" },
  { key: "won", said: "they buy" },
] as const;

const ENTRIES = [
  { value: "outcome", label: "an outcome is logged" },
  { value: "inquiry", label: "an inquiry comes in" },
  { value: "tag", label: "a tag is given" },
  { value: "stage", label: "a stage is entered" },
  { value: "parked", label: "it is parked" },
  { value: "won", label: "they buy" },
] as const;

/** What comes after the last touch: nothing, the same again, or another cadence. */
const afterwards = (to: string): Partial<CadencePlan> => {
  const then = to === "" ? undefined : to === "again" ? { again: { from: 1, times: 1 } } : { cadenceId: to };
  return { then };
};
const againAs = (again: { from: number; times: number | null }): Partial<CadencePlan> => {
  const then = { again };
  return { then };
};

interface EndsProps {
  readonly draft: CadencePlan;
  readonly data: Cadences;
  readonly cadence: Cadence | null;
  readonly put: (part: Partial<CadencePlan>) => void;
}

/** How leads get in, what stops it, what comes after, and how it stands beside others. */
function Ends({ draft, data, cadence, put }: EndsProps) {
  const { stops, enters } = draft;
  const entry = (at: number, next: Entry) => put({ enters: enters.map((e, i) => (i === at ? next : e)) });
  const others = data.cadences.filter((c) => c.id !== cadence?.id);
  const again = draft.then?.again;
  return (
    <>
      <section aria-label="How leads get in">
        <div className={setup.top}>
          <h2>How leads get in</h2>
          <Button
            onClick={() =>
              put({ enters: [...enters, { on: "outcome", value: data.outcomes[0]?.key ?? "" }] })
            }
          >
            Add a way in
          </Button>
        </div>
        {enters.length === 0 && (
          <p className={setup.quiet}>By hand, from a list, or by the API; nobody gets in on their own.</p>
        )}
        {enters.map((e, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a way in has nothing but its place to be told by
          <div key={i} className={styles.entry}>
            <div className={styles.fields}>
              <Choice
                label="When"
                value={e.on}
                options={ENTRIES}
                onChange={(on) =>
                  entry(i, {
                    on,
                    ...(on === "outcome" && { value: data.outcomes[0]?.key }),
                    ...(on === "stage" && { value: data.stages[0]?.key }),
                  })
                }
              />
              {e.on === "outcome" && (
                <>
                  <Choice
                    label="Outcome"
                    value={e.value ?? ""}
                    options={data.outcomes.map((o) => ({ value: o.key, label: o.name }))}
                    onChange={(value) => entry(i, { ...e, value })}
                  />
                  <Field
                    label="The n-th time in a row"
                    type="number"
                    min={1}
                    max={50}
                    value={e.nth ?? 1}
                    onChange={(v) => entry(i, { ...e, nth: Number(v.target.value) })}
                  />
                </>
              )}
              {e.on === "tag" && (
                <Field
                  label="Tag"
                  value={e.value ?? ""}
                  onChange={(v) => entry(i, { ...e, value: v.target.value })}
                />
              )}
              {e.on === "stage" && (
                <Choice
                  label="Stage"
                  value={e.value ?? ""}
                  options={data.stages.map((s) => ({ value: s.key, label: s.name }))}
                  onChange={(value) => entry(i, { ...e, value })}
                />
              )}
              <Button
                look="bare"
                aria-label={`Remove way in ${i + 1}`}
                onClick={() => put({ enters: enters.filter((_, j) => j !== i) })}
              >
                Remove
              </Button>
            </div>
            <details open={!!e.when}>
              <summary>Only when</summary>
              <ConditionEditor
                condition={(e.when ?? null) as Condition | null}
                catalogue={data.catalogue as RoutingSetup["catalogue"]}
                onChange={(when) => entry(i, { ...e, when: when as Entry["when"] })}
              />
            </details>
          </div>
        ))}
        <label className={setup.check}>
          <input
            type="checkbox"
            checked={draft.once ?? false}
            onChange={(e) => put({ once: e.target.checked || undefined })}
          />
          Nobody is in it a second time
        </label>
      </section>
      <section aria-label="What stops it">
        <h2>What stops it</h2>
        <div className={styles.checks}>
          {STOPS.map(({ key, said }) => (
            <label key={key} className={setup.check}>
              <input
                type="checkbox"
                checked={stops.includes(key)}
                onChange={(e) =>
                  put({ stops: e.target.checked ? [...stops, key] : stops.filter((s) => s !== key) })
                }
              />
              {said}
            </label>
          ))}
          {data.stages.map(({ key: stage, name }) => (
            <label key={stage} className={setup.check}>
              <input
                type="checkbox"
                checked={stops.includes(`stage:${stage}`)}
                onChange={(e) =>
                  put({
                    stops: e.target.checked
                      ? [...stops, `stage:${stage}`]
                      : stops.filter((s) => s !== `stage:${stage}`),
                  })
                }
              />
              stage {name}
            </label>
          ))}
        </div>
        <p className={setup.quiet}>
          Closing a lead always ends it. Without a stop for replies it pauses until they were answered.
          Whoever opts out of mails or texts gets none; the rest goes on.
        </p>
      </section>
      <section aria-label="The rest">
        <h2>The rest</h2>
        <div className={styles.fields}>
          <Field label="Name" value={draft.name} onChange={(e) => put({ name: e.target.value })} />
          <Field
            label="Why leads are in it"
            value={draft.reason}
            help="“parked” is for leads nobody works."
            onChange={(e) => put({ reason: e.target.value })}
          />
          <Choice
            label="After the last touch"
            value={again ? "again" : (draft.then?.cadenceId ?? "")}
            options={[
              { value: "", label: "it is done" },
              { value: "again", label: "again from touch …" },
              ...others.map((c) => ({ value: c.id, label: `on into “${c.name}”` })),
            ]}
            onChange={(to) => put(afterwards(to))}
          />
          {again && (
            <>
              <Field
                label="From touch"
                type="number"
                min={1}
                max={draft.touches.length}
                value={again.from}
                onChange={(e) => put(againAs({ ...again, from: Number(e.target.value) }))}
              />
              <Field
                label="So many times"
                type="number"
                min={0}
                value={again.times ?? 0}
                help="0 for ever"
                onChange={(e) => put(againAs({ ...again, times: Number(e.target.value) || null }))}
              />
            </>
          )}
          <Field
            label="Spread over, minutes"
            type="number"
            min={0}
            value={draft.spreadMinutes}
            help="Those who begin together do not go at one moment."
            onChange={(e) => put({ spreadMinutes: Number(e.target.value) })}
          />
          <Field
            label="Precedence"
            type="number"
            min={0}
            value={draft.precedence}
            help="The higher one goes first."
            onChange={(e) => put({ precedence: Number(e.target.value) })}
          />
          <Choice
            label="A lower one"
            value={draft.over ?? "pauses"}
            options={[
              { value: "pauses", label: "pauses, and goes on afterwards" },
              { value: "ends", label: "ends" },
            ]}
            onChange={(over) => put({ over })}
          />
          <Field
            label="Quiet after we wrote, hours"
            type="number"
            min={0}
            value={draft.byHandHours}
            onChange={(e) => put({ byHandHours: Number(e.target.value) })}
          />
          <Choice
            label="While the owner is away"
            value={draft.away ?? "cover"}
            options={[
              { value: "cover", label: "calls go to cover" },
              { value: "waits", label: "calls wait for them" },
            ]}
            onChange={(away) => put({ away })}
          />
        </div>
      </section>
    </>
  );
}
