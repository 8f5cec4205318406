import { useEditing } from "../../../live/setup-draft.ts";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { Stage, StagesSetup } from "../../../wire/customer-schemas.ts";
import { EditorDialog } from "../EditorDialog.tsx";
import styles from "./Stages.module.css";

interface Props {
  readonly stage: Stage;
  /** Those of the same list. */
  readonly stages: readonly Stage[];
  readonly data: StagesSetup;
  readonly onKeep: (next: Stage) => void;
  readonly onClose: () => void;
}

/** One stage: what it means, what must be known before, from where, by whom, and what entering it does. */
export function StageEditor({ stage: given, stages, data, onKeep, onClose }: Props) {
  const deal = given.of === "deal";
  const own = data.stages.find((s) => s.key === given.key)?.own ?? false;
  const editing = useEditing(`stage:${given.key}`, given);
  const stage = editing.draft;
  const put = (change: Partial<Stage>) => editing.put({ ...stage, ...change });
  const toggle = (list: readonly string[], one: string, on: boolean) =>
    on ? [...list, one] : list.filter((x) => x !== one);
  const askable = data.askable.filter((a) => deal || !a.deal);
  const from = stage.from ?? [];
  return (
    <EditorDialog title={given.name} editing={editing} onKeep={onKeep} onClose={onClose}>
      <div className={styles.form}>
        {!own && (
          <Choice
            label="What it means"
            value={stage.kind}
            options={[
              { value: "open", label: "It is worked on" },
              { value: "won", label: "An end: won" },
              { value: "lost", label: "An end: lost" },
              { value: "none", label: deal ? "An end: no decision" : "An end: not a real inquiry" },
            ]}
            onChange={(kind) => put({ kind: kind as Stage["kind"] })}
          />
        )}
        <fieldset className={styles.checks}>
          <legend>What must be known before</legend>
          {askable.map((a) => (
            <label key={a.key}>
              <input
                type="checkbox"
                checked={stage.asks.includes(a.key)}
                onChange={(e) => put({ asks: toggle(stage.asks, a.key, e.target.checked) })}
              />{" "}
              {a.name}
            </label>
          ))}
        </fieldset>
        <fieldset className={styles.checks}>
          <legend>It is entered from (from anywhere when none is ticked)</legend>
          {stages
            .filter((s) => s.key !== stage.key)
            .map((s) => (
              <label key={s.key}>
                <input
                  type="checkbox"
                  checked={from.includes(s.key)}
                  onChange={(e) => {
                    const next = toggle(from, s.key, e.target.checked);
                    put({ from: next.length > 0 ? next : undefined });
                  }}
                />{" "}
                {s.name}
              </label>
            ))}
        </fieldset>
        {deal ? (
          <Choice
            label="Deals come here on their own"
            value={stage.when ?? ""}
            options={[
              { value: "", label: "never" },
              { value: "sent", label: "when an estimate is sent" },
              { value: "accepted", label: "when an estimate is accepted" },
              { value: "declined", label: "when an estimate is declined" },
            ]}
            onChange={(when) => put({ when: (when || undefined) as Stage["when"] })}
          />
        ) : (
          <>
            <Choice
              label="Who moves leads here"
              value={stage.by ?? "owner"}
              options={[
                { value: "owner", label: "whoever has the lead" },
                { value: "movers", label: "coordinators and managers only" },
              ]}
              onChange={(by) => put({ by: by === "movers" ? "movers" : undefined })}
            />
            <Field
              label="Task for whoever has it, due the next open day"
              placeholder="none"
              value={stage.entry?.task ?? ""}
              onChange={(e) => put({ entry: { ...stage.entry, task: e.target.value || undefined } })}
            />
            <Field
              label="Tag it gets"
              placeholder="none"
              value={stage.entry?.tag ?? ""}
              onChange={(e) => put({ entry: { ...stage.entry, tag: e.target.value || undefined } })}
            />
            <fieldset className={styles.checks}>
              <legend>Who hears of it</legend>
              {data.people.map((p) => (
                <label key={p.id}>
                  <input
                    type="checkbox"
                    checked={stage.entry?.tell?.includes(p.id) ?? false}
                    onChange={(e) =>
                      put({
                        entry: {
                          ...stage.entry,
                          tell: toggle(stage.entry?.tell ?? [], p.id, e.target.checked),
                        },
                      })
                    }
                  />{" "}
                  {p.name}
                </label>
              ))}
            </fieldset>
            <p className={styles.said}>
              A cadence begins with a stage where the cadence says so: under{" "}
              <a href="/setup/cadences">Cadences</a>.
            </p>
          </>
        )}
      </div>
    </EditorDialog>
  );
}
