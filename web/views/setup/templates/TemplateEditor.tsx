import { useRef, useState } from "react";
import { valueNames } from "../../../../core/policy/setup.ts";
import { dayTime } from "../../../../core/time/words.ts";
import { deskNow } from "../../../live/clock.ts";
import { useQueue } from "../../../live/queries.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { useChange, useTemplateVersions, useTriedTemplate } from "../../../live/setup-queries.ts";
import { Attach, Attached } from "../../../ui/Attach.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import { type Inserting, LetterEditor, written } from "../../../ui/LetterEditor.tsx";
import { Tabs } from "../../../ui/Tabs.tsx";
import type { File as Kept, Template, TemplatesSetup } from "../../../wire/answering-schemas.ts";
import { Length } from "../../desk/Writing.tsx";
import { LeadChoice } from "../LeadChoice.tsx";
import styles from "../Setup.module.css";

interface Props {
  readonly template: Template;
  readonly setup: TemplatesSetup;
  readonly onClose: () => void;
}

/** The same each time, so that the editor is told of no change where there is none. */
const NO_FAULTS: readonly never[] = [];

/** One template, written beside what it becomes. */
export function TemplateEditor({ template, setup, onClose }: Props) {
  const editing = useEditing(`template:${template.id || template.channel}`, template);
  const { draft, changed, put: setDraft } = editing;
  const [language, setLanguage] = useState(setup.languages[0] ?? "en");
  const [leadId, setLead] = useState<string | null>(null);
  const save = useChange();
  const remove = useChange();
  const trial = useChange();
  const { data: tried } = useTriedTemplate(draft, language, leadId);
  const body = useRef<Inserting>(null);
  const text = draft.texts[language] ?? { body: "", ...(draft.channel === "email" && { subject: "" }) };
  const write = (change: Partial<typeof text>) =>
    setDraft({ ...draft, texts: { ...draft.texts, [language]: { ...text, ...change } } });
  const faultsIn = (part: string) =>
    tried?.faults.filter((f) => f.path === `texts.${language}.${part}`) ?? NO_FAULTS;
  const insert = (written: string) => body.current?.insert(written);
  const attach = (files: readonly Kept[]) => setDraft({ ...draft, attachments: [...files] });
  return (
    <>
      <div className={styles.top}>
        <h1>{template.id ? template.name : draft.channel === "email" ? "A new email" : "A new text"}</h1>
        <Button onClick={onClose}>All templates</Button>
      </div>
      <div className={styles.editor}>
        <div className={styles.stack}>
          <Field
            label="Name"
            value={draft.name}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
          <Tabs
            label="Language"
            chosen={language}
            onChoose={setLanguage}
            tabs={setup.languages.map((l) => ({
              key: l,
              name: valueNames.language(l),
              note: draft.texts[l]?.body ? undefined : (
                <small>falls back to {valueNames.language(setup.languages[0] ?? "en")}</small>
              ),
            }))}
          />
          {draft.channel === "email" && (
            <Field
              label="Subject"
              value={text.subject ?? ""}
              error={faultsIn("subject")[0]?.message}
              onChange={(e) => write({ subject: e.target.value })}
            />
          )}
          <LetterEditor
            key={language}
            ref={body}
            label={draft.channel === "email" ? "Letter" : "Text"}
            letter={draft.channel === "email"}
            value={text.body}
            fields={setup.fields}
            faults={faultsIn("body")}
            help={
              draft.channel === "email"
                ? "Markdown: an empty line begins a paragraph, “- ” a list, **stars** make strong, [words](https://…) a link, ![](https://…) a picture. Links tell when they are opened. Two braces {{ complete fields by name."
                : "Addresses of pages become short links that tell when they are opened. Two braces {{ complete fields by name."
            }
            onChange={(body) => write({ body })}
          />
          <Insert setup={setup} letter={draft.channel === "email"} onInsert={insert} />
          {draft.channel === "email" && (
            <div className={styles.row}>
              <Attach files={draft.attachments ?? []} onChange={attach} />
              <Attached files={draft.attachments ?? []} onChange={attach} />
            </div>
          )}
          {template.id && <Versions id={template.id} onTake={(t) => setDraft({ ...t, id: template.id })} />}
        </div>
        <aside className={styles.result} aria-label="What it becomes">
          <h2>What it becomes</h2>
          <LeadChoice leadId={leadId} onChange={setLead} />
          {tried && tried.faults.length > 0 && (
            <p className={styles.wrong} role="alert">
              {tried.faults[0]?.message}
            </p>
          )}
          {tried?.html ? (
            <>
              <p className={styles.subject}>{tried.subject}</p>
              <iframe className={styles.mail} sandbox="" srcDoc={tried.html} title="The mail as it arrives" />
            </>
          ) : (
            tried?.body && <p className={styles.letter}>{tried.body}</p>
          )}
          {draft.channel === "text" && tried?.body && <Length text={tried.body} />}
          <p className={styles.row}>
            <Button
              disabled={!tried?.body || trial.isPending}
              onClick={() =>
                trial.mutate({
                  call: "POST /setup/templates/send",
                  body: { template: draft, language, leadId },
                  said: ({ to }) => `It is on its way to ${to}.`,
                })
              }
            >
              Send it to me
            </Button>
          </p>
        </aside>
      </div>
      <div className={styles.bar}>
        <Button
          look="strong"
          disabled={!changed || save.isPending}
          onClick={() =>
            save.mutate({
              call: "POST /setup/templates",
              body: draft,
              said: `“${draft.name}” is saved.`,
              after: () => {
                editing.done();
                onClose();
              },
            })
          }
        >
          Save
        </Button>
        <Button
          look="bare"
          onClick={() => {
            editing.leave();
            onClose();
          }}
        >
          {changed ? "Discard changes" : "Back"}
        </Button>
        {template.id && (
          <Button
            look="bare"
            onClick={() =>
              remove.mutate({
                call: "POST /setup/templates/[id]/remove",
                params: { id: template.id },

                said: `“${template.name}” is removed.`,
                after: onClose,
              })
            }
          >
            Remove
          </Button>
        )}
      </div>
    </>
  );
}

/** Fields and pieces, by name: nobody has to know how they are written. */
function Insert({
  setup,
  letter,
  onInsert,
}: {
  readonly setup: TemplatesSetup;
  readonly letter: boolean;
  readonly onInsert: (text: string) => void;
}) {
  return (
    <div className={styles.row}>
      <Choice
        label="Insert a field"
        value=""
        options={[
          { value: "", label: "choose …" },
          ...setup.fields.map((field) => ({
            value: letter && field.type === "link" ? `[Choose a time](${written(field)})` : written(field),
            label: field.name,
          })),
        ]}
        onChange={(text) => text && onInsert(text)}
      />
      <Choice
        label="Insert a part that depends"
        value=""
        options={[
          { value: "", label: "choose …" },
          ...setup.fields
            .filter((f) => f.maybeEmpty)
            .map(({ path, name }) => ({
              value: `{% if ${path} %}{{ ${path} }}{% else %}…{% endif %}`,
              label: `only with: ${name}`,
            })),
        ]}
        onChange={(text) => text && onInsert(text)}
      />
    </div>
  );
}

/** What it said before, who changed it and when; an older one can be taken up again. */
function Versions({ id, onTake }: { readonly id: string; readonly onTake: (template: Template) => void }) {
  const { data = [] } = useTemplateVersions(id);
  const { data: queue } = useQueue();
  return (
    <details>
      <summary>{data.length === 1 ? "One version" : `${data.length} versions`}</summary>
      <ul className={styles.versions}>
        {data.map(({ at, by, template }, i) => (
          <li key={at}>
            {dayTime(Date.parse(at), queue?.zone ?? "UTC", deskNow())}, {by ?? "from the beginning"}
            {i === 0 ? (
              <span className={styles.quiet}> in force</span>
            ) : (
              <Button look="bare" onClick={() => onTake(template)}>
                Take it up again
              </Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
