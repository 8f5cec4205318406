import { dayTime } from "../../../../core/time/words.ts";
import { useParking } from "../../../live/bells-queries.ts";
import { useNow } from "../../../live/clock.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Field } from "../../../ui/Field.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import type { ParkingSetup, SaveParking, SlowPlan, WakeRule } from "../../../wire/bells-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Waking.module.css";

/** What happens to parked leads: slow plans, and the rules that bring them back. */
export function WakingView() {
  return (
    <SetupFrame place="Parking and waking">
      <Waking />
    </SetupFrame>
  );
}

const draftOf = ({ slowPlans, wakes }: ParkingSetup): SaveParking => ({ slowPlans, wakes });
const freshId = (prefix: string) => `${prefix}_${Math.random().toString(36).slice(2, 10)}`;

function Waking() {
  const { data, error } = useParking();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<SaveParking>("waking", data ? draftOf(data) : null);
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data || !draft) return <p className={setup.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  const put = (part: Partial<SaveParking>) => setDraft({ ...draft, ...part });
  const putRule = (rule: WakeRule) => put({ wakes: draft.wakes.map((w) => (w.id === rule.id ? rule : w)) });
  const putPlan = (plan: SlowPlan) =>
    put({ slowPlans: draft.slowPlans.map((p) => (p.id === plan.id ? plan : p)) });
  return (
    <>
      <div className={setup.top}>
        <h1>Parking and waking</h1>
        <a href="/parked">Parked leads</a>
      </div>
      <p className={setup.intro}>
        A parked lead takes nobody’s time. When it does something, the first rule that fits says what follows,
        always in this order: who has it, its tag, then whoever has it now hears of it.
      </p>
      <div className={setup.top}>
        <h2>What wakes them</h2>
        <Button
          onClick={() =>
            put({
              wakes: [
                {
                  id: freshId("w"),
                  name: "New rule",
                  signals: ["reply"],
                  when: null,
                  does: "route",
                  tag: null,
                  calmHours: 0,
                },
                ...draft.wakes,
              ],
            })
          }
        >
          Add a rule
        </Button>
      </div>
      <Sortable
        items={draft.wakes}
        idOf={(w) => w.id}
        nameOf={(w) => w.name}
        onMove={(wakes) => put({ wakes })}
      >
        <ol className={styles.rules}>
          {draft.wakes.map((rule) => (
            <Rule
              key={rule.id}
              rule={rule}
              data={data}
              onChange={putRule}
              onRemove={() => put({ wakes: draft.wakes.filter((w) => w.id !== rule.id) })}
            />
          ))}
        </ol>
      </Sortable>
      <p className={setup.quiet}>
        Whoever writes, calls or asks again and is woken by no rule goes on the manager’s list. A calm-down
        holds back clicks and visits only.
      </p>
      <div className={setup.top}>
        <h2>Slow plans</h2>
        <Button
          onClick={() =>
            put({
              slowPlans: [
                ...draft.slowPlans,
                {
                  id: freshId("sp"),
                  name: "New slow plan",
                  everyDays: 30,
                  times: 0,
                  templateId: null,
                  lookAfterDays: 90,
                },
              ],
            })
          }
        >
          Add a plan
        </Button>
      </div>
      {draft.slowPlans.map((plan) => (
        <Plan
          key={plan.id}
          plan={plan}
          templates={data.templates}
          onChange={putPlan}
          onRemove={() => put({ slowPlans: draft.slowPlans.filter((p) => p.id !== plan.id) })}
        />
      ))}
      {draft.slowPlans.length === 0 && (
        <p className={setup.quiet}>No slow plan: leads can only be parked without a next look.</p>
      )}
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/parking",
              body: draft,
              said: "In force from now on.",
              after: (now) => setDraft(draftOf(now)),
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}

interface RuleProps {
  readonly rule: WakeRule;
  readonly data: ParkingSetup;
  readonly onChange: (rule: WakeRule) => void;
  readonly onRemove: () => void;
}

const DOES = [
  { value: "route", label: "is routed like new, with its history" },
  { value: "former", label: "goes back to whoever had it, or to their cover" },
  { value: "tell", label: "stays parked, and managers are told" },
];

function Rule({ rule, data, onChange, onRemove }: RuleProps) {
  const { grip, ...place } = useGrip(rule.id, rule.name);
  const now = useNow();
  const fired = data.fired[rule.id];
  const said = (key: string) => data.signals.find((s) => s.key === key)?.said ?? key;
  const put = (part: Partial<WakeRule>) => onChange({ ...rule, ...part });
  return (
    <li className={styles.rule} {...place}>
      {grip}
      <div className={styles.body}>
        <Field label="Name" value={rule.name} onChange={(e) => put({ name: e.target.value })} />
        <div className={setup.row}>
          <Choice
            label="The lead"
            value={rule.does}
            options={DOES}
            onChange={(does) => put({ does: does as WakeRule["does"] })}
          />
          <Field
            label="Tag it (if you like)"
            value={rule.tag ?? ""}
            onChange={(e) => put({ tag: e.target.value || null })}
          />
          <Field
            label="Not again within, hours"
            type="number"
            min={0}
            value={rule.calmHours}
            onChange={(e) => put({ calmHours: Number(e.target.value) })}
          />
        </div>
        <div className={setup.row}>
          {data.signals.map((s) => (
            <label key={s.key} className={setup.check}>
              <input
                type="checkbox"
                checked={rule.signals.includes(s.key)}
                onChange={(e) =>
                  put({
                    signals: e.target.checked
                      ? [...rule.signals, s.key]
                      : rule.signals.filter((k) => k !== s.key),
                  })
                }
              />
              {s.said}
            </label>
          ))}
        </div>
        <details>
          <summary>{rule.when ? "Only for some parked leads" : "For every parked lead"}</summary>
          <ConditionEditor
            condition={rule.when as Parameters<typeof ConditionEditor>[0]["condition"]}
            catalogue={data.catalogue}
            onChange={(when) => put({ when: when as WakeRule["when"] })}
          />
        </details>
        {fired ? (
          <details>
            <summary>
              Fired {fired.times} {fired.times === 1 ? "time" : "times"} for {fired.leads}{" "}
              {fired.leads === 1 ? "lead" : "leads"} in ninety days
            </summary>
            <ul className={styles.fired}>
              {fired.latest.map((w) => (
                <li key={`${w.leadId}${w.at}`}>
                  {dayTime(Date.parse(w.at), data.zone, now)} <a href={`/?lead=${w.leadId}`}>{w.name}</a>,{" "}
                  {said(w.signal)}: now {w.became}
                </li>
              ))}
            </ul>
          </details>
        ) : (
          <p className={setup.quiet}>Has not fired in ninety days.</p>
        )}
      </div>
      <span>
        <Button
          look="bare"
          aria-label={`${rule.off ? "Switch on" : "Switch off"} ${rule.name}`}
          onClick={() => put({ off: !rule.off })}
        >
          {rule.off ? "Switch on" : "Switch off"}
        </Button>
        <Button look="bare" aria-label={`Remove ${rule.name}`} onClick={onRemove}>
          Remove
        </Button>
      </span>
    </li>
  );
}

interface PlanProps {
  readonly plan: SlowPlan;
  readonly templates: ParkingSetup["templates"];
  readonly onChange: (plan: SlowPlan) => void;
  readonly onRemove: () => void;
}

function Plan({ plan, templates, onChange, onRemove }: PlanProps) {
  const put = (part: Partial<SlowPlan>) => onChange({ ...plan, ...part });
  return (
    <div className={`${setup.ends} ${styles.plan}`}>
      <Field label="Name" value={plan.name} onChange={(e) => put({ name: e.target.value })} />
      <Choice
        label="Sends"
        value={plan.templateId ?? ""}
        options={[
          { value: "", label: "nothing" },
          ...templates.map((t) => ({ value: t.id, label: `${t.name} (${t.channel})` })),
        ]}
        onChange={(id) => put({ templateId: id || null, times: id ? Math.max(1, plan.times) : 0 })}
      />
      {plan.templateId && (
        <>
          <Field
            label="Every so many days"
            type="number"
            min={7}
            value={plan.everyDays}
            onChange={(e) => put({ everyDays: Number(e.target.value) })}
          />
          <Field
            label="So often at most"
            type="number"
            min={1}
            value={plan.times}
            onChange={(e) => put({ times: Number(e.target.value) })}
          />
        </>
      )}
      <Field
        label="A person looks again after, days"
        type="number"
        min={1}
        value={plan.lookAfterDays}
        onChange={(e) => put({ lookAfterDays: Number(e.target.value) })}
      />
      <Button look="bare" aria-label={`Remove ${plan.name}`} onClick={onRemove}>
        Remove
      </Button>
    </div>
  );
}
