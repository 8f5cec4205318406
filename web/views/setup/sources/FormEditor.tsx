import { useState } from "react";
import { keyOf } from "../../../../core/policy/own-fields.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Copy } from "../../../ui/Copy.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import type { FormField, SourceDetail, WebForm } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";
import { ChoicesEditor } from "./ChoicesEditor.tsx";

const TYPES = [
  { value: "text", label: "a line" },
  { value: "area", label: "several lines" },
  { value: "email", label: "mail address" },
  { value: "tel", label: "phone" },
  { value: "choice", label: "a choice" },
  { value: "consent", label: "consent" },
];

/** Edit the website form: its words and questions, their order by dragging. */
export function FormEditor({ source, form }: { readonly source: SourceDetail; readonly form: WebForm }) {
  const editing = useEditing(`form:${source.key}`, form);
  const { draft, changed, put: setDraft } = editing;
  const [shown, setShown] = useState(0);
  const [sites, setSites] = useState(draft.frames?.join(", ") ?? "");
  const change = useChange();
  const set = (part: Partial<WebForm>) => setDraft({ ...draft, ...part });
  const setField = (at: number, next: FormField) =>
    set({ fields: draft.fields.map((f, i) => (i === at ? next : f)) });
  const add = () => {
    let name = "question";
    for (let i = 2; draft.fields.some((f) => f.name === name); i++) name = `question_${i}`;
    set({ fields: [...draft.fields, { name, label: "", type: "text", required: false, choices: [] }] });
  };
  const snippet = `<div data-kite-bell="${source.key}"></div>\n<script src="${location.origin}/embed.js" async></script>`;
  return (
    <div className={styles.editor}>
      <div>
        <h2>Words</h2>
        <div className={styles.stack}>
          <Field label="Heading" value={draft.title} onChange={(e) => set({ title: e.target.value })} />
          <Area
            label="Introduction"
            rows={2}
            value={draft.intro}
            onChange={(e) => set({ intro: e.target.value })}
          />
          <div className={styles.fields}>
            <Field
              label="On the button"
              value={draft.button}
              onChange={(e) => set({ button: e.target.value })}
            />
            <Field
              label="Thanks, after sending"
              value={draft.thanks}
              onChange={(e) => set({ thanks: e.target.value })}
            />
          </div>
          <Field
            label="Sites that may show the form’s own page in a frame, separated by commas"
            placeholder="https://www.example.com"
            value={sites}
            onChange={(e) => {
              setSites(e.target.value);
              const frames = e.target.value
                .split(",")
                .map((site) => site.trim().toLowerCase())
                .filter(Boolean);
              set({ frames });
            }}
          />
        </div>
        <h2>Questions</h2>
        <Sortable
          items={draft.fields}
          idOf={(f) => f.name}
          nameOf={(f) => f.label || f.name}
          onMove={(fields) => set({ fields })}
        >
          {draft.fields.map((field, i) => (
            <Question
              key={field.name}
              field={field}
              onSet={(next) => setField(i, next)}
              onRemove={() => set({ fields: draft.fields.filter((_, j) => j !== i) })}
            />
          ))}
        </Sortable>
        <p>
          <Button onClick={add}>Add a question</Button>
        </p>
        <div className={styles.bar}>
          <Button
            look="strong"
            disabled={!changed || change.isPending}
            onClick={() =>
              change.mutate({
                call: "POST /sources/[id]",
                params: { id: source.key },
                body: { form: { ...draft, fields: draft.fields.map(named(draft.fields)).map(tidied) } },
                said: "The form is in force wherever it is shown.",
                after: () => {
                  editing.done();
                  setShown(shown + 1);
                },
              })
            }
          >
            Put this form in force
          </Button>
          {changed && (
            <Button look="bare" onClick={editing.leave}>
              Back to what is in force
            </Button>
          )}
          <span className={styles.quiet}>What each answer becomes is set under “What fields become”.</span>
        </div>
      </div>
      <aside className={styles.result}>
        <h2>As people see it</h2>
        <iframe key={shown} className={styles.preview} title="The form" src={`/f/${source.key}`} />
        <h2>On your site</h2>
        <p className={styles.quiet}>
          Paste this where the form should stand. It keeps the page, where people came from, and campaign and
          click ids. Or link to <a href={`/f/${source.key}`}>the form’s own page</a>.
        </p>
        <Copy text={snippet} label="the snippet" />
      </aside>
    </div>
  );
}

/** A question added here gets its field's name from its words, so that the mapping can read it. */
const named = (all: readonly FormField[]) => (field: FormField) => {
  if (!/^question(_\d+)?$/.test(field.name)) return field;
  const name = keyOf(field.label);
  return name && /^[a-z]/.test(name) && !all.some((f) => f.name === name) ? { ...field, name } : field;
};

/** Without choices nobody has given words to. */
const tidied = (field: FormField): FormField => ({
  ...field,
  choices: field.choices.filter((c) => c.label.trim() !== ""),
});

interface QuestionProps {
  readonly field: FormField;
  readonly onSet: (next: FormField) => void;
  readonly onRemove: () => void;
}

function Question({ field, onSet, onRemove }: QuestionProps) {
  const what = field.label || "this question";
  const { grip, ...place } = useGrip(field.name, what);
  return (
    <div className={styles.question} {...place}>
      {grip}
      <Field
        label="Question"
        value={field.label}
        onChange={(e) => onSet({ ...field, label: e.target.value })}
      />
      <Choice
        label="Answered by"
        value={field.type}
        options={TYPES}
        onChange={(type) => onSet({ ...field, type: type as FormField["type"] })}
      />
      <label className={styles.check}>
        <input
          type="checkbox"
          checked={field.required}
          onChange={(e) => onSet({ ...field, required: e.target.checked })}
        />
        required
      </label>
      <Button look="bare" aria-label={`Remove ${what}`} onClick={onRemove}>
        Remove
      </Button>
      {field.type === "choice" && (
        <div className={styles.choices}>
          <ChoicesEditor
            choices={field.choices}
            question={what}
            onChange={(choices) => onSet({ ...field, choices })}
          />
        </div>
      )}
    </div>
  );
}
