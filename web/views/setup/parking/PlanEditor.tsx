import { useEditing } from "../../../live/setup-draft.ts";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { ParkingSetup, SlowPlan } from "../../../wire/bells-schemas.ts";
import { EditorDialog } from "../EditorDialog.tsx";
import setup from "../Setup.module.css";

const days = (n: number) => (n === 1 ? "day" : `${n} days`);

/** A slow plan in a sentence. */
export function planSentence(plan: SlowPlan, { templates }: Pick<ParkingSetup, "templates">): string {
  const template = templates.find((t) => t.id === plan.templateId);
  const sends = template
    ? `“${template.name}” by ${template.channel} every ${days(plan.everyDays)}, ${plan.times} ${plan.times === 1 ? "time" : "times"} at most; `
    : "Sends nothing; ";
  return `${sends}a person looks again after ${days(plan.lookAfterDays)}`;
}

interface Props {
  readonly plan: SlowPlan;
  readonly data: ParkingSetup;
  readonly onKeep: (plan: SlowPlan) => void;
  readonly onClose: () => void;
}

/** One slow plan: what it sends, how often, and when a person looks again. */
export function PlanEditor({ plan, data, onKeep, onClose }: Props) {
  const editing = useEditing(`slow-plan:${plan.id}`, plan);
  const { draft } = editing;
  const put = (part: Partial<SlowPlan>) => editing.put({ ...draft, ...part });
  return (
    <EditorDialog title={plan.name} editing={editing} onKeep={onKeep} onClose={onClose}>
      <div className={setup.row}>
        <Choice
          label="Sends"
          value={draft.templateId ?? ""}
          options={[
            { value: "", label: "nothing" },
            ...data.templates.map((t) => ({ value: t.id, label: `${t.name} (${t.channel})` })),
          ]}
          onChange={(id) => put({ templateId: id || null, times: id ? Math.max(1, draft.times) : 0 })}
        />
        {draft.templateId && (
          <>
            <Field
              label="Every so many days"
              type="number"
              min={7}
              value={draft.everyDays}
              onChange={(e) => put({ everyDays: Number(e.target.value) })}
            />
            <Field
              label="So often at most"
              type="number"
              min={1}
              value={draft.times}
              onChange={(e) => put({ times: Number(e.target.value) })}
            />
          </>
        )}
        <Field
          label="A person looks again after, days"
          type="number"
          min={1}
          value={draft.lookAfterDays}
          onChange={(e) => put({ lookAfterDays: Number(e.target.value) })}
        />
      </div>
    </EditorDialog>
  );
}
