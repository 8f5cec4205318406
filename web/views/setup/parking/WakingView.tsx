import { dayTime } from "../../../../core/time/words.ts";
import { useInAddress } from "../../../live/address.ts";
import { useParking } from "../../../live/bells-queries.ts";
import { useNow } from "../../../live/clock.ts";
import { freshId } from "../../../live/fresh-id.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import type { ParkingSetup, SaveParking, WakeRule } from "../../../wire/bells-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { WakeEditor, wakeSentence } from "./WakeEditor.tsx";
import styles from "./Waking.module.css";

/** The rules that bring parked leads back. */
export function WakingView() {
  return (
    <SetupFrame place="Parking and waking">
      <Waking />
    </SetupFrame>
  );
}

const draftOf = ({ wakes }: ParkingSetup): SaveParking => ({ wakes });

/** Stands for what is begun and not kept yet. */
const NEW = "new";
/** A new rule begins switched off, like every rule of the desk: nothing changes until somebody says so. */
const NEW_RULE: WakeRule = {
  id: NEW,
  name: "New rule",
  signals: ["reply"],
  when: null,
  does: "route",
  tag: null,
  calmHours: 0,
  off: true,
};
function Waking() {
  const { data, error } = useParking();
  const save = useChange();
  const [ruleId, openRule] = useInAddress("rule");
  const [draft, setDraft] = useSetupDraft<SaveParking>("waking", data ? draftOf(data) : null);
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data || !draft) return <p className={setup.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  const put = (part: Partial<SaveParking>) => setDraft({ ...draft, ...part });
  // What is begun stands in the draft once it is kept: leaving it leaves nothing behind.
  const putRule = (next: WakeRule) =>
    put({
      wakes:
        next.id === NEW
          ? [{ ...next, id: freshId("w") }, ...draft.wakes]
          : draft.wakes.map((w) => (w.id === next.id ? next : w)),
    });
  const rule = draft.wakes.find((w) => w.id === ruleId) ?? (ruleId === NEW ? NEW_RULE : null);
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
        <Button onClick={() => openRule(NEW)}>Add a rule</Button>
      </div>
      <Sortable
        items={draft.wakes}
        idOf={(w) => w.id}
        nameOf={(w) => w.name}
        onMove={(wakes) => put({ wakes })}
      >
        <ol className={styles.rules}>
          {draft.wakes.map((rule) => (
            <RuleRow
              key={rule.id}
              rule={rule}
              data={data}
              onOpen={() => openRule(rule.id)}
              onChange={putRule}
              onCopy={() => {
                const copy = { ...rule, id: freshId("w"), name: `${rule.name}, copy`, off: true };
                put({ wakes: draft.wakes.flatMap((w) => (w.id === rule.id ? [w, copy] : [w])) });
              }}
              onRemove={() => put({ wakes: draft.wakes.filter((w) => w.id !== rule.id) })}
            />
          ))}
        </ol>
      </Sortable>
      <p className={setup.quiet}>
        Whoever writes, calls or asks again and is woken by no rule goes on the manager’s list. A calm-down
        holds back clicks and visits only.
      </p>
      <p className={setup.quiet}>
        What goes out to parked leads meanwhile, and when somebody looks again, stands under{" "}
        <a href="/setup/cadences">Cadences</a>.
      </p>
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
      {rule && (
        <WakeEditor
          key={rule.id}
          rule={rule}
          data={data}
          onKeep={(next) => {
            putRule(next);
            openRule(null);
          }}
          onClose={() => openRule(null)}
        />
      )}
    </>
  );
}

interface RowProps {
  readonly rule: WakeRule;
  readonly data: ParkingSetup;
  readonly onOpen: () => void;
  readonly onChange: (rule: WakeRule) => void;
  readonly onCopy: () => void;
  readonly onRemove: () => void;
}

function RuleRow({ rule, data, onOpen, onChange, onCopy, onRemove }: RowProps) {
  const { grip, ...place } = useGrip(rule.id, rule.name);
  const now = useNow();
  const fired = data.fired[rule.id];
  const said = (key: string) => data.signals.find((s) => s.key === key)?.said ?? key;
  return (
    <li className={rule.off ? `${styles.rule} ${styles.off}` : styles.rule} {...place}>
      {grip}
      <div>
        <button type="button" className={setup.open} data-row onClick={onOpen}>
          {rule.name}
        </button>
        {rule.off && " (switched off)"}
        <p className={setup.quiet}>{wakeSentence(rule, data)}</p>
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
          onClick={() => {
            const { off, ...on } = rule;
            onChange(off ? on : { ...rule, off: true });
          }}
        >
          {rule.off ? "Switch on" : "Switch off"}
        </Button>
        <Button look="bare" aria-label={`Duplicate ${rule.name}`} onClick={onCopy}>
          Duplicate
        </Button>
        <Button look="bare" aria-label={`Remove ${rule.name}`} onClick={onRemove}>
          Remove
        </Button>
      </span>
    </li>
  );
}
