import { RUNG_ACTS, type RungAct } from "../../../../core/policy/bells.ts";
import { ALERT_WAYS } from "../../../../core/vocabulary.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { BellsSetup, Ladder, Rung, Target } from "../../../wire/bells-schemas.ts";
import { EditorDialog } from "../EditorDialog.tsx";
import setup from "../Setup.module.css";
import bells from "./Bells.module.css";
import { rungSaid } from "./bell-words.ts";
import { LadderLine } from "./LadderLine.tsx";

interface Props {
  readonly ladder: Ladder;
  readonly data: BellsSetup;
  /** Whose minutes the line is drawn with. */
  readonly sample: Target;
  readonly onKeep: (ladder: Ladder) => void;
  readonly onClose: () => void;
}

/** One ladder: its rungs before, at and after the bell, and the line they make. */
export function LadderEditor({ ladder, data, sample, onKeep, onClose }: Props) {
  const editing = useEditing(`ladder:${ladder.id}`, ladder);
  const { draft, put: setDraft } = editing;
  const put = (i: number, rung: Rung) =>
    setDraft({ ...draft, rungs: draft.rungs.map((r, j) => (i === j ? rung : r)) });
  return (
    <EditorDialog title={ladder.name} editing={editing} onKeep={onKeep} onClose={onClose}>
      <LadderLine ladder={draft} target={sample} groups={data.groups} plans={data.plans} />
      <p className={setup.quiet}>Drawn for “{sample.name}”, beginning now.</p>
      <h3>Rungs</h3>
      <ol className={bells.rungs}>
        {draft.rungs.map((rung, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rungs have no name of their own
          <li key={i}>
            <RungFields rung={rung} data={data} onChange={(next) => put(i, next)} />
            <Button
              look="bare"
              aria-label={`Remove: ${rungSaid(rung, data.groups, data.plans)}`}
              onClick={() => setDraft({ ...draft, rungs: draft.rungs.filter((_, j) => j !== i) })}
            >
              Remove
            </Button>
          </li>
        ))}
      </ol>
      <div className={setup.row}>
        <Button
          onClick={() =>
            setDraft({
              ...draft,
              rungs: [...draft.rungs, { fraction: 1, plusMinutes: 10, act: "manager" }],
            })
          }
        >
          Another rung
        </Button>
      </div>
    </EditorDialog>
  );
}

interface RungProps {
  readonly rung: Rung;
  readonly data: BellsSetup;
  readonly onChange: (rung: Rung) => void;
}

function RungFields({ rung, data, onChange }: RungProps) {
  const before = rung.fraction < 1;
  const choose = (act: RungAct) => {
    const { fraction, plusMinutes } = rung;
    const bare = { fraction, plusMinutes, act };
    if (act === "group") onChange({ ...bare, groupId: data.groups[0]?.id ?? "" });
    else if (act === "tag") onChange({ ...bare, tag: data.tags[0] ?? "late" });
    else onChange(bare);
  };
  return (
    <div className={setup.ends}>
      <Choice
        label="When"
        value={before ? "before" : rung.plusMinutes === 0 ? "at" : "after"}
        options={[
          { value: "before", label: "before the bell, at" },
          { value: "at", label: "as it rings" },
          { value: "after", label: "after the bell, by" },
        ]}
        onChange={(when) =>
          onChange({
            ...rung,
            fraction: when === "before" ? 0.6 : 1,
            plusMinutes: when === "after" ? 10 : 0,
          })
        }
      />
      {before && (
        <Field
          label="Per cent of the target"
          type="number"
          min={0}
          max={99}
          value={Math.round(rung.fraction * 100)}
          onChange={(e) => onChange({ ...rung, fraction: Math.min(99, Number(e.target.value)) / 100 })}
        />
      )}
      {!before && rung.plusMinutes > 0 && (
        <Field
          label="Minutes after the bell"
          type="number"
          min={1}
          value={rung.plusMinutes}
          onChange={(e) => onChange({ ...rung, plusMinutes: Math.max(1, Number(e.target.value)) })}
        />
      )}
      <Choice
        label="What"
        value={rung.act}
        options={RUNG_ACTS.filter((a) => a !== "ring").map((act) => ({
          value: act,
          label: rungSaid({ fraction: 1, plusMinutes: 0, act, tag: "…" }, [], []),
        }))}
        onChange={(act) => choose(act as RungAct)}
      />
      {rung.act === "nudge" && (
        <Choice
          label="By"
          value={rung.ways?.join("+") ?? ""}
          options={[
            { value: "", label: "the ways they have chosen" },
            ...ALERT_WAYS.filter((w) => w !== "browser").map((w) => ({ value: w, label: w })),
            { value: "chat+text", label: "chat and text" },
          ]}
          onChange={(ways) => {
            const { ways: _, ...rest } = rung;
            onChange(ways ? { ...rest, ways: ways.split("+") as NonNullable<Rung["ways"]> } : rest);
          }}
        />
      )}
      {rung.act === "group" && (
        <Choice
          label="Group"
          value={rung.groupId ?? ""}
          options={data.groups.map((g) => ({ value: g.id, label: g.name }))}
          onChange={(groupId) => onChange({ ...rung, groupId })}
        />
      )}
      {rung.act === "tag" && (
        <Field
          label="Tag"
          value={rung.tag ?? ""}
          onChange={(e) => onChange({ ...rung, tag: e.target.value })}
        />
      )}
      {rung.act === "park" && (
        <Choice
          label="Cadence"
          value={rung.planId ?? ""}
          options={[{ value: "", label: "none" }, ...data.plans.map((p) => ({ value: p.id, label: p.name }))]}
          onChange={(planId) => {
            const { planId: _, ...rest } = rung;
            onChange(planId ? { ...rest, planId } : rest);
          }}
        />
      )}
    </div>
  );
}
