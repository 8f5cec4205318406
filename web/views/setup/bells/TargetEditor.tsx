import { useState } from "react";
import { useEditing } from "../../../live/setup-draft.ts";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { BellsSetup, Ladder, Target } from "../../../wire/bells-schemas.ts";
import { EditorDialog } from "../EditorDialog.tsx";
import setup from "../Setup.module.css";
import { LadderLine } from "./LadderLine.tsx";

interface Props {
  readonly target: Target;
  readonly data: BellsSetup;
  readonly ladders: readonly Ladder[];
  readonly onKeep: (target: Target) => void;
  readonly onClose: () => void;
}

const UNITS = [
  { value: "1", label: "minutes" },
  { value: "60", label: "hours" },
  { value: "1440", label: "days" },
];
const unitOf = (minutes: number) =>
  minutes > 0 && minutes % 1440 === 0 ? 1440 : minutes > 0 && minutes % 60 === 0 ? 60 : 1;

/** One target: for which leads, within what, by which clock, and by which ladder. */
export function TargetEditor({ target, data, ladders, onKeep, onClose }: Props) {
  const editing = useEditing(`target:${target.id}`, target);
  const { draft, put: setDraft } = editing;
  const [unit, setUnit] = useState(unitOf(target.minutes));
  const put = (part: Partial<Target>) => setDraft({ ...draft, ...part });
  const ladder = ladders.find((l) => l.id === draft.ladderId);
  const kind = data.kinds.find((k) => k.key === (draft.about ?? "inquiry"));
  return (
    <EditorDialog title={target.name} editing={editing} onKeep={onKeep} onClose={onClose}>
      <p className={setup.quiet}>{kind && `${kind.name}: ${kind.said}.`}</p>
      <h3>When</h3>
      <ConditionEditor
        condition={draft.when as Parameters<typeof ConditionEditor>[0]["condition"]}
        catalogue={data.catalogue}
        onChange={(when) => put({ when: when as Target["when"] })}
      />
      <h3>Within</h3>
      <div className={setup.row}>
        <Field
          label="How long"
          type="number"
          min={0}
          step="any"
          value={draft.minutes / unit}
          onChange={(e) => put({ minutes: Math.round(Number(e.target.value) * unit * 10) / 10 })}
        />
        <Choice
          label="Unit"
          value={String(unit)}
          options={UNITS}
          onChange={(next) => {
            setUnit(Number(next));
            put({ minutes: (draft.minutes / unit) * Number(next) });
          }}
        />
        <Choice
          label="By which clock"
          value={draft.clock}
          options={[
            { value: "desk", label: "while the desk is open" },
            { value: "wall", label: "day and night" },
          ]}
          onChange={(clock) => put({ clock: clock as Target["clock"] })}
        />
        {draft.clock === "desk" && (
          <Choice
            label="By whose clock"
            value={draft.zone ?? "desk"}
            options={[
              { value: "desk", label: `the desk’s (${data.zone})` },
              { value: "lead", label: "the lead’s, where they are" },
            ]}
            onChange={(zone) => {
              const { zone: _, ...rest } = draft;
              setDraft(zone === "lead" ? { ...rest, zone: "lead" } : rest);
            }}
          />
        )}
      </div>
      <h3>Then</h3>
      <Choice
        label="Ladder"
        value={draft.ladderId}
        options={ladders.map((l) => ({ value: l.id, label: l.name }))}
        onChange={(ladderId) => put({ ladderId })}
      />
      {ladder && <LadderLine ladder={ladder} target={draft} groups={data.groups} plans={data.plans} />}
    </EditorDialog>
  );
}
