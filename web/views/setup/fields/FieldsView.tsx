import { useState } from "react";
import { FACTS } from "../../../../core/policy/mapping.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange, useFieldsSetup } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { FieldsSetup, OwnField } from "../../../wire/setup-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { NewField, TYPES } from "./NewField.tsx";

/** The company's own fields, what its tags mean, and what makes a lead complete. */
export function FieldsView() {
  return (
    <SetupFrame place="Fields and tags">
      <Fields />
    </SetupFrame>
  );
}

function Fields() {
  const { data, error } = useFieldsSetup();
  const change = useChange();
  const [naming, setNaming] = useState(false);
  const [draft, setDraft] = useSetupDraft<FieldsSetup>(
    "fields",
    data ? { fields: data.fields, tags: data.tags, completeness: data.completeness } : null,
  );
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={styles.quiet}>Looking …</p>;
  const before = { fields: data.fields, tags: data.tags, completeness: data.completeness };
  const changed = JSON.stringify(draft) !== JSON.stringify(before);
  return (
    <>
      <div className={styles.top}>
        <h1>Fields and tags</h1>
        <Button look="strong" onClick={() => setNaming(true)}>
          Add a field
        </Button>
      </div>
      <p className={styles.intro}>
        What you want to know beyond names and numbers. Fields of your own can be mapped to, asked in forms,
        and used in rules and filters, always by their name.
      </p>
      <OwnFields draft={draft} onChange={setDraft} />
      <Tags draft={draft} onChange={setDraft} />
      <Weights draft={draft} onChange={setDraft} />
      {changed && (
        <SaveBar
          saving={change.isPending}
          onSave={() => change.mutate({ call: "POST /setup/fields", body: draft, said: "In force." })}
          draft={draft}
          onDraft={setDraft}
        />
      )}
      {naming && <NewField suggested="" onClose={() => setNaming(false)} onMade={() => setNaming(false)} />}
    </>
  );
}

interface Props {
  readonly draft: FieldsSetup;
  readonly onChange: (draft: FieldsSetup) => void;
}

function OwnFields({ draft, onChange }: Props) {
  const set = (at: number, next: OwnField | null) =>
    onChange({ ...draft, fields: draft.fields.flatMap((f, i) => (i === at ? (next ? [next] : []) : [f])) });
  return (
    <>
      <h2>Your own fields</h2>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>Name</th>
            <th>Holds</th>
            <th>Choices</th>
            <th>Asked before a lead is complete</th>
            <ActsHead />
          </tr>
        </thead>
        <tbody className={styles.mid}>
          {draft.fields.map((field, i) => (
            <tr key={field.key}>
              <td>
                <Field
                  label={`Name of ${field.key}`}
                  quiet
                  value={field.name}
                  onChange={(e) => set(i, { ...field, name: e.target.value })}
                />
              </td>
              <td>{TYPES.find((t) => t.value === field.type)?.label}</td>
              <td>
                {field.choices.length > 0 && (
                  <Field
                    label={`Choices of ${field.name}`}
                    quiet
                    defaultValue={field.choices.join(", ")}
                    onBlur={(e) =>
                      set(i, {
                        ...field,
                        choices: e.target.value
                          .split(",")
                          .map((c) => c.trim())
                          .filter(Boolean),
                      })
                    }
                  />
                )}
              </td>
              <td>
                <label className={styles.check}>
                  <input
                    type="checkbox"
                    checked={field.required}
                    onChange={(e) => set(i, { ...field, required: e.target.checked })}
                  />
                  required
                </label>
              </td>
              <td>
                <Button look="bare" aria-label={`Remove ${field.name}`} onClick={() => set(i, null)}>
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Tags({ draft, onChange }: Props) {
  const [name, setName] = useState("");
  const [meaning, setMeaning] = useState("");
  return (
    <>
      <h2>Tags and what they mean</h2>
      <table className={styles.table}>
        <tbody className={styles.mid}>
          {draft.tags.map((tag, i) => (
            <tr key={tag.name}>
              <td className={styles.state}># {tag.name}</td>
              <td>
                <Field
                  label={`Meaning of ${tag.name}`}
                  quiet
                  value={tag.meaning}
                  onChange={(e) =>
                    onChange({
                      ...draft,
                      tags: draft.tags.map((t, j) => (i === j ? { ...t, meaning: e.target.value } : t)),
                    })
                  }
                />
              </td>
              <td>
                <Button
                  look="bare"
                  aria-label={`Remove the tag ${tag.name}`}
                  onClick={() => onChange({ ...draft, tags: draft.tags.filter((_, j) => i !== j) })}
                >
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className={styles.row}>
        <Field label="A new tag" value={name} onChange={(e) => setName(e.target.value.toLowerCase())} />
        <Field label="means" value={meaning} onChange={(e) => setMeaning(e.target.value)} />
        <Button
          disabled={!name.trim() || draft.tags.some((t) => t.name === name.trim())}
          onClick={() => {
            onChange({ ...draft, tags: [...draft.tags, { name: name.trim(), meaning }] });
            setName("");
            setMeaning("");
          }}
        >
          Add the tag
        </Button>
      </div>
    </>
  );
}

function Weights({ draft, onChange }: Props) {
  const total = draft.completeness.reduce((sum, w) => sum + w.weight, 0);
  const names: Record<string, string> = {
    ...FACTS,
    territory: "Territory",
    ...Object.fromEntries(draft.fields.map((f) => [`own.${f.key}`, f.name])),
  };
  const rest = Object.keys(names).filter((fact) => !draft.completeness.some((w) => w.fact === fact));
  const set = (completeness: FieldsSetup["completeness"]) => onChange({ ...draft, completeness });
  return (
    <>
      <h2>What makes a lead complete</h2>
      <p className={styles.intro}>
        Each known fact adds its share. The sheet of a lead names the one missing fact that would raise it
        most.
      </p>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>Fact</th>
            <th>Weight</th>
            <th className={styles.figure}>Share</th>
            <ActsHead />
          </tr>
        </thead>
        <tbody className={styles.mid}>
          {draft.completeness.map((w, i) => (
            <tr key={w.fact}>
              <td>{names[w.fact] ?? w.fact}</td>
              <td>
                <Field
                  label={`Weight of ${names[w.fact]}`}
                  quiet
                  type="number"
                  min={0}
                  max={100}
                  value={w.weight}
                  onChange={(e) =>
                    set(
                      draft.completeness.map((x, j) =>
                        i === j ? { ...x, weight: Number(e.target.value) } : x,
                      ),
                    )
                  }
                />
              </td>
              <td className={styles.figure}>{total > 0 ? Math.round((100 * w.weight) / total) : 0} %</td>
              <td>
                <Button
                  look="bare"
                  aria-label={`Don’t weigh ${names[w.fact]}`}
                  onClick={() => set(draft.completeness.filter((_, j) => i !== j))}
                >
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Choice
        label="Weigh another fact"
        value=""
        options={[
          { value: "", label: "choose …" },
          ...rest.map((fact) => ({ value: fact, label: names[fact] ?? fact })),
        ]}
        onChange={(fact) =>
          fact &&
          set([
            ...draft.completeness,
            { fact: fact as FieldsSetup["completeness"][number]["fact"], weight: 1 },
          ])
        }
      />
    </>
  );
}
