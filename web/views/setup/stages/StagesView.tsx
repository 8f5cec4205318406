import { useState } from "react";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { useStages } from "../../../live/stage-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { EditTable } from "../../../ui/EditTable.tsx";
import { Field } from "../../../ui/Field.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import type { Reason, SaveStages, Stage, StagesSetup } from "../../../wire/customer-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { StageEditor } from "./StageEditor.tsx";
import styles from "./Stages.module.css";

/** What leads and deals go through, and why they end. */
export function StagesView() {
  return (
    <SetupFrame place="Stages">
      <Stages />
    </SetupFrame>
  );
}

type Draft = Required<Pick<SaveStages, "stages" | "reasons">> & { moves: Record<string, string> };

const draftOf = ({ stages, reasons }: StagesSetup): Draft => ({
  stages: stages.map(({ leads: _l, deals: _d, own: _o, questions: _q, ...stage }) => stage),
  reasons,
  moves: {},
});

const KINDS = {
  open: "worked on",
  won: "an end: won",
  lost: "an end: lost",
  none: "an end: came to nothing",
} as const;

function Stages() {
  const { data, error } = useStages();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<Draft>("stages", data ? draftOf(data) : null);
  const [open, setOpen] = useState<string | null>(null);
  const [removing, setRemoving] = useState<Stage | null>(null);
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={setup.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  const put = (change: Partial<Draft>) => setDraft({ ...draft, ...change });
  const standing = (key: string) => {
    const stage = data.stages.find((s) => s.key === key);
    return (stage?.leads ?? 0) + (stage?.deals ?? 0);
  };
  const editing = draft.stages.find((s) => s.key === open);
  const remove = (stage: Stage, to: string | null) => {
    put({
      stages: draft.stages.filter((s) => s.key !== stage.key),
      moves: to ? { ...draft.moves, [stage.key]: to } : draft.moves,
    });
    setRemoving(null);
    setOpen(null);
  };
  const list = (of: "lead" | "deal") => draft.stages.filter((s) => (s.of ?? of) === of);
  const order = (of: "lead" | "deal", stages: Stage[]) => {
    const others = draft.stages.filter((s) => (s.of ?? of) !== of);
    put({ stages: of === "lead" ? [...stages, ...others] : [...others, ...stages] });
  };
  const add = (of: "lead" | "deal") => {
    const name = freshName(
      draft.stages.map((s) => s.name),
      "New stage",
    );
    const at = draft.stages.findLastIndex((s) => (s.of ?? of) === of && s.kind === "open");
    const stage: Stage = { key: name, name, kind: "open", of, asks: [] };
    put({ stages: draft.stages.toSpliced(at + 1, 0, stage) });
    setOpen(name);
  };
  return (
    <>
      <h1>Stages</h1>
      <p className={setup.intro}>
        What a lead goes through until it is handed over, and a deal from then on. A stage may ask that
        something is known before it is entered.
      </p>
      {(["lead", "deal"] as const).map((of) => (
        <section key={of} aria-label={of === "lead" ? "Leads" : "Deals"} className={styles.part}>
          <h2>{of === "lead" ? "Leads" : "Deals"}</h2>
          <Sortable
            items={list(of)}
            idOf={(s) => s.key}
            nameOf={(s) => s.name}
            onMove={(stages) => order(of, stages)}
          >
            <ul className={styles.stages}>
              {list(of).map((stage) => (
                <Row
                  key={stage.key}
                  stage={stage}
                  data={data}
                  onOpen={() => setOpen(stage.key)}
                  onRemove={() => (standing(stage.key) > 0 ? setRemoving(stage) : remove(stage, null))}
                />
              ))}
            </ul>
          </Sortable>
          <Button onClick={() => add(of)}>Add a stage</Button>
        </section>
      ))}
      <Reasons data={data} reasons={draft.reasons} onChange={(reasons) => put({ reasons })} />
      {editing && (
        <StageEditor
          stage={editing}
          stages={list(editing.of ?? "lead")}
          data={data}
          onClose={() => setOpen(null)}
          onKeep={(next) => {
            put({ stages: draft.stages.map((s) => (s.key === editing.key ? next : s)) });
            setOpen(null);
          }}
        />
      )}
      {removing && (
        <RemoveDialog
          stage={removing}
          standing={standing(removing.key)}
          others={draft.stages.filter(
            (s) => s.key !== removing.key && s.kind === removing.kind && s.of === removing.of,
          )}
          onClose={() => setRemoving(null)}
          onRemove={(to) => remove(removing, to)}
        />
      )}
      {changed && (
        <SaveBar
          saving={save.isPending}
          draft={draft}
          onDraft={setDraft}
          onSave={() =>
            save.mutate({
              call: "POST /setup/stages",
              body: draft,
              said: "In force from now on.",
              after: (now) => setDraft(draftOf(now)),
            })
          }
        />
      )}
    </>
  );
}

function freshName(names: readonly string[], base: string): string {
  let name = base;
  for (let n = 2; names.includes(name); n++) name = `${base} ${n}`;
  return name;
}

function Row({
  stage,
  data,
  onOpen,
  onRemove,
}: {
  readonly stage: Stage;
  readonly data: StagesSetup;
  readonly onOpen: () => void;
  readonly onRemove: () => void;
}) {
  const { ref, style, grip } = useGrip(stage.key, stage.name);
  const known = data.stages.find((s) => s.key === stage.key);
  const standing = stage.of === "deal" ? known?.deals : known?.leads;
  const asks = stage.asks.map((key) => data.askable.find((a) => a.key === key)?.name ?? key);
  const begins = data.begins.filter((b) => b.stage === stage.key).map((b) => b.cadence);
  const said = [
    stage.kind !== "open" && KINDS[stage.kind],
    asks.length > 0 && `asks for ${asks.join(", ").toLowerCase()}`,
    !!known?.questions && `${known.questions} questions must be answered`,
    stage.from && stage.from.length > 0 && "only from some",
    stage.by === "movers" && "coordinators and managers only",
    stage.when && `when an estimate is ${stage.when}`,
    stage.entry?.task && `task: ${stage.entry.task}`,
    stage.entry?.tag && `tag: ${stage.entry.tag}`,
    begins.length > 0 && `begins ${begins.join(", ")}`,
  ].filter(Boolean);
  return (
    <li ref={ref} style={style} className={styles.row} data-kind={stage.kind}>
      {grip}
      <button type="button" className={styles.name} data-row onClick={onOpen}>
        {stage.name}
      </button>
      <span className={styles.said}>{said.join(" · ")}</span>
      {standing !== undefined && standing > 0 && <small>{standing} here</small>}
      {known?.own ? (
        <small>the desk’s own</small>
      ) : (
        <Button look="bare" onClick={onRemove}>
          Remove
        </Button>
      )}
    </li>
  );
}

/** What stands in a stage must go somewhere. */
function RemoveDialog({
  stage,
  standing,
  others,
  onClose,
  onRemove,
}: {
  readonly stage: Stage;
  readonly standing: number;
  readonly others: readonly Stage[];
  readonly onClose: () => void;
  readonly onRemove: (to: string) => void;
}) {
  const [to, setTo] = useState(others[0]?.key ?? "");
  const what =
    stage.of === "deal"
      ? standing === 1
        ? "deal stands"
        : "deals stand"
      : standing === 1
        ? "lead stands"
        : "leads stand";
  return (
    <Dialog title={`Remove “${stage.name}”`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (to) onRemove(to);
        }}
      >
        <p>
          {standing} {what} in it. Their thread will tell of the move.
        </p>
        <Choice
          label="They go to"
          value={to}
          options={others.map((s) => ({ value: s.key, label: s.name }))}
          onChange={setTo}
        />
        <Button type="submit" look="strong" disabled={!to}>
          Remove it
        </Button>
      </form>
    </Dialog>
  );
}

const ENDS = { won: "won", lost: "lost", none: "came to nothing" } as const;

function Reasons({
  data,
  reasons,
  onChange,
}: {
  readonly data: StagesSetup;
  readonly reasons: readonly Reason[];
  readonly onChange: (next: Reason[]) => void;
}) {
  return (
    <section aria-label="Why they end" className={styles.part}>
      <h2>Why they end</h2>
      <p className={setup.quiet}>Asked whenever a lead is closed or a deal ends. Figures go by them.</p>
      {(["lead", "deal"] as const).map((of) => (
        <div key={of}>
          <h3>{of === "lead" ? "Leads" : "Deals"}</h3>
          <EditTable
            rows={reasons}
            shows={(reason) => (reason.of ?? of) === of}
            onChange={onChange}
            add="Add a reason"
            fresh={() => ({
              key: "",
              name: freshName(
                reasons.map((r) => r.name),
                "New reason",
              ),
              kind: "lost" as const,
              of,
            })}
            columns={[
              {
                name: "Reason",
                cell: (reason, put) => (
                  <Field
                    label="Reason"
                    quiet
                    value={reason.name}
                    onChange={(e) => put({ name: e.target.value })}
                  />
                ),
              },
              {
                name: "Counts as",
                cell: (reason, put) => (
                  <Choice
                    label={`What “${reason.name}” counts as`}
                    quiet
                    value={reason.kind}
                    options={Object.entries(ENDS).map(([value, label]) => ({ value, label }))}
                    onChange={(kind) => put({ kind: kind as Reason["kind"] })}
                  />
                ),
              },
              {
                name: "What then",
                cell: (reason, put) => <Then reason={reason} data={data} of={of} onPut={put} />,
              },
            ]}
          />
        </div>
      ))}
    </section>
  );
}

function Then({
  reason,
  data,
  of,
  onPut,
}: {
  readonly reason: Reason;
  readonly data: StagesSetup;
  readonly of: "lead" | "deal";
  readonly onPut: (change: Partial<Reason>) => void;
}) {
  const then = reason.cadenceId ? "cadence" : reason.againMonths ? "again" : "nothing";
  return (
    <div className={styles.then}>
      <Choice
        label={`After “${reason.name}”`}
        quiet
        value={then}
        options={[
          { value: "nothing", label: of === "lead" ? "closed" : "nothing more" },
          { value: "again", label: "ask again later" },
          ...(of === "lead" && data.slowPlans.length > 0
            ? [{ value: "cadence", label: "set aside in a cadence" }]
            : []),
        ]}
        onChange={(next) =>
          onPut({
            cadenceId: next === "cadence" ? data.slowPlans[0]?.id : undefined,
            againMonths: next === "again" ? 6 : undefined,
          })
        }
      />
      {then === "cadence" && (
        <Choice
          label="Cadence"
          quiet
          value={reason.cadenceId ?? ""}
          options={data.slowPlans.map((p) => ({ value: p.id, label: p.name }))}
          onChange={(cadenceId) => onPut({ cadenceId })}
        />
      )}
      {then === "again" && (
        <label>
          in{" "}
          <input
            type="number"
            min={1}
            max={60}
            aria-label={`Months after “${reason.name}”`}
            value={reason.againMonths ?? 6}
            onChange={(e) => onPut({ againMonths: Number(e.target.value) || 1 })}
          />{" "}
          months
        </label>
      )}
      {of === "lead" && (
        <label>
          <input
            type="checkbox"
            checked={reason.turnBack ?? false}
            onChange={(e) => onPut({ turnBack: e.target.checked || undefined })}
          />{" "}
          turn given back
        </label>
      )}
    </div>
  );
}
