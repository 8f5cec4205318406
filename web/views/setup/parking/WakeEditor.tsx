import { useEditing } from "../../../live/setup-draft.ts";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { ParkingSetup, WakeRule } from "../../../wire/bells-schemas.ts";
import { EditorDialog } from "../EditorDialog.tsx";
import setup from "../Setup.module.css";

const DOES = [
  { value: "route", label: "is routed like new, with its history" },
  { value: "former", label: "goes back to whoever had it, or to their cover" },
  { value: "tell", label: "stays parked, and managers are told" },
];

const or = (parts: readonly string[]) =>
  parts.length < 2 ? (parts[0] ?? "") : `${parts.slice(0, -1).join(", ")} or ${parts.at(-1)}`;

/** A wake rule in a sentence. */
export function wakeSentence(rule: WakeRule, data: Pick<ParkingSetup, "signals">): string {
  const signals = rule.signals.map((key) => data.signals.find((s) => s.key === key)?.said ?? key);
  const does = DOES.find((d) => d.value === rule.does)?.label ?? rule.does;
  return [
    signals.length > 0 ? `When ${or(signals)}, the lead ${does}` : "On no signal: it never fires",
    rule.when && "for some parked leads only",
    rule.tag && `tagged “${rule.tag}”`,
    rule.calmHours > 0 && `not again within ${rule.calmHours} h`,
  ]
    .filter(Boolean)
    .join("; ");
}

interface Props {
  readonly rule: WakeRule;
  readonly data: ParkingSetup;
  readonly onKeep: (rule: WakeRule) => void;
  readonly onClose: () => void;
}

/** One wake rule: on which signals, for which leads, and what follows. */
export function WakeEditor({ rule, data, onKeep, onClose }: Props) {
  const editing = useEditing(`wake:${rule.id}`, rule);
  const { draft } = editing;
  const put = (part: Partial<WakeRule>) => editing.put({ ...draft, ...part });
  return (
    <EditorDialog title={rule.name} editing={editing} onKeep={onKeep} onClose={onClose}>
      <fieldset className={setup.plain}>
        <legend>When</legend>
        <div className={setup.row}>
          {data.signals.map((s) => (
            <label key={s.key} className={setup.check}>
              <input
                type="checkbox"
                checked={draft.signals.includes(s.key)}
                onChange={(e) =>
                  put({
                    signals: e.target.checked
                      ? [...draft.signals, s.key]
                      : draft.signals.filter((k) => k !== s.key),
                  })
                }
              />
              {s.said}
            </label>
          ))}
        </div>
      </fieldset>
      <h3>For which parked leads</h3>
      <ConditionEditor
        condition={draft.when as Parameters<typeof ConditionEditor>[0]["condition"]}
        catalogue={data.catalogue}
        onChange={(when) => put({ when: when as WakeRule["when"] })}
      />
      <h3>Then</h3>
      <div className={setup.row}>
        <Choice
          label="The lead"
          value={draft.does}
          options={DOES}
          onChange={(does) => put({ does: does as WakeRule["does"] })}
        />
        <Field
          label="Tag it (if you like)"
          value={draft.tag ?? ""}
          onChange={(e) => put({ tag: e.target.value || null })}
        />
        <Field
          label="Not again within, hours"
          type="number"
          min={0}
          value={draft.calmHours}
          onChange={(e) => put({ calmHours: Number(e.target.value) })}
        />
      </div>
    </EditorDialog>
  );
}
