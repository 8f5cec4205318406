import { useRef, useState } from "react";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useAlerts, useChange, useTriedTemplate } from "../../../live/setup-queries.ts";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { AlertsSetup } from "../../../wire/answering-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";

/** What alerts say first, in the company's own words; the facts and the link follow by themselves. */
export function AlertWords() {
  const { data } = useAlerts();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<AlertsSetup["words"]>("alert-words", data?.words ?? null);
  const [at, setAt] = useState<string | null>(null);
  if (!data || !draft) return null;
  const written = (words: AlertsSetup["words"]) => Object.entries(words).filter(([, text]) => text.trim());
  const changed = JSON.stringify(written(draft)) !== JSON.stringify(written(data.words));
  return (
    <>
      <h2>What they say</h2>
      <p className={styles.intro}>
        The first line of each alert. What the lead wants, how to reach them, where they are and the link
        follow by themselves. Empty, it says what stands there in grey.
      </p>
      <div className={styles.stack}>
        {data.events
          .filter(({ about }) => about in data.usualWords)
          .map(({ about, name }) => (
            <Words
              key={about}
              name={name}
              text={draft[about] ?? ""}
              usual={data.usualWords[about] ?? ""}
              fields={data.fields}
              isAt={at === about}
              onAt={() => setAt(about)}
              onText={(text) => setDraft({ ...draft, [about]: text })}
            />
          ))}
      </div>
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/alerts/words",
              body: { words: Object.fromEntries(written(draft)) },
              said: "Alerts say so from now on.",
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}

interface WordsProps {
  readonly name: string;
  readonly text: string;
  readonly usual: string;
  readonly fields: AlertsSetup["fields"];
  /** Whether it is the one being written: only that one shows what it becomes. */
  readonly isAt: boolean;
  readonly onAt: () => void;
  readonly onText: (text: string) => void;
}

function Words({ name, text, usual, fields, isAt, onAt, onText }: WordsProps) {
  const node = useRef<HTMLFieldSetElement>(null);
  const insert = (written: string) => {
    const input = node.current?.querySelector("input");
    const from = input?.selectionStart ?? text.length;
    onText(text.slice(0, from) + written + text.slice(input?.selectionEnd ?? from));
    input?.focus();
  };
  return (
    <fieldset ref={node} className={styles.bare} onFocus={onAt}>
      <Field label={name} value={text} placeholder={usual} onChange={(e) => onText(e.target.value)} />
      {isAt && (
        <div className={styles.row}>
          <Choice
            label="Insert a field"
            value=""
            options={[
              { value: "", label: "choose …" },
              ...fields.map(({ path, name: called }) => ({ value: `{{ ${path} }}`, label: called })),
            ]}
            onChange={(field) => field && insert(field)}
          />
          {text && <Becomes text={text} />}
        </div>
      )}
    </fieldset>
  );
}

/** What it becomes for somebody made up, or what is wrong with it. */
function Becomes({ text }: { readonly text: string }) {
  const template = { id: "", name: "alert", channel: "text", texts: { en: { body: text } } } as const;
  const { data: tried } = useTriedTemplate(template, "en", null);
  const fault = tried?.faults[0];
  if (fault) return <p className={styles.wrong}>{fault.message}</p>;
  return tried?.body ? <p className={styles.quiet}>becomes: {tried.body}</p> : null;
}
