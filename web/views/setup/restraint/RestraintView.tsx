import { useState } from "react";
import { valueNames } from "../../../../core/policy/setup.ts";
import { dayTime } from "../../../../core/time/words.ts";
import { deskNow } from "../../../live/clock.ts";
import { useCompany } from "../../../live/company-queries.ts";
import { useQueue } from "../../../live/queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange, useRestraint, useSuppressed } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import type { RestraintSetup } from "../../../wire/answering-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { withoutBlanks, writtenList } from "../written.ts";

/** What keeps automatic messages within bounds, and who must not be written to. */
export function RestraintView() {
  return (
    <SetupFrame place="Sending limits">
      <Restraint />
      <List />
    </SetupFrame>
  );
}

const WORDS = [
  { key: "stop", name: "Words that end texts" },
  { key: "start", name: "Words that allow them again" },
  { key: "help", name: "Words that ask who we are" },
] as const;

function Restraint() {
  const { data, error } = useRestraint();
  const { data: mine } = useCompany();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<RestraintSetup>("restraint", data ?? null);
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data || !mine) return <p className={styles.quiet}>Looking …</p>;
  const { languages } = mine.company;
  const changed = JSON.stringify(draft) !== JSON.stringify(data);
  return (
    <>
      <h1>Sending limits</h1>
      <p className={styles.intro}>
        Holds for everything that goes out on its own. Whoever writes by hand is told and may go on; only
        after an opt-out word no text goes at all.
      </p>
      <div className={styles.fields}>
        <Field
          label="Texts go from, at their place"
          type="time"
          value={draft.allowed.from}
          onChange={(e) => setDraft({ ...draft, allowed: { ...draft.allowed, from: e.target.value } })}
        />
        <Field
          label="until"
          type="time"
          value={draft.allowed.to}
          onChange={(e) => setDraft({ ...draft, allowed: { ...draft.allowed, to: e.target.value } })}
        />
        <Field
          label="Automatic messages to one lead a day, at most"
          type="number"
          min={1}
          max={10}
          value={draft.perDay}
          onChange={(e) => setDraft({ ...draft, perDay: Number(e.target.value) })}
        />
      </div>
      <div className={styles.stack}>
        <Field
          label="Minutes between two automatic messages to one lead, at least"
          type="number"
          min={0}
          max={10080}
          value={draft.gapMinutes ?? 0}
          onChange={(e) => setDraft({ ...draft, gapMinutes: Number(e.target.value) })}
        />
        {(["email", "text"] as const).map((channel) => (
          <Field
            key={channel}
            label={`${channel === "email" ? "Mails" : "Texts"} of cadences a minute and line, at most`}
            type="number"
            min={1}
            placeholder="as many as there are"
            help="What the carrier lets through; the rest goes a minute later each."
            value={draft.perLineMinute?.[channel] ?? ""}
            onChange={(e) =>
              setDraft({
                ...draft,
                perLineMinute: {
                  ...draft.perLineMinute,
                  [channel]: e.target.value === "" ? null : Number(e.target.value),
                },
              })
            }
          />
        ))}
      </div>
      <p className={styles.quiet}>
        Their place is told by postal code and area code. When the two disagree, both must be awake.
      </p>
      <h2>When many are new at once</h2>
      <p className={styles.quiet}>
        First replies above this number wait, so that nobody can use a form to have us write to the world. A
        line on top lets them go in one step. Leads are taken and offered all the same.
      </p>
      <div className={styles.stack}>
        <Field
          label="First replies to new people, an hour and source, at most"
          type="number"
          min={1}
          placeholder="by each source’s rhythm"
          help="Empty: sixty, or five times what the source’s busiest hour usually brings."
          value={draft.perSourceHour ?? ""}
          onChange={(e) =>
            setDraft({ ...draft, perSourceHour: e.target.value === "" ? null : Number(e.target.value) })
          }
        />
      </div>
      <h2>Opting out by a word</h2>
      <p className={styles.quiet}>
        Counts when it stands alone or with courtesy: “Stop please” ends texts, “Stop by tomorrow?” does not.
        Accents and capitals make no difference.
      </p>
      <div className={styles.stack}>
        {WORDS.map(({ key, name }) => (
          <div key={key}>
            <Field
              label={name}
              value={draft.words[key].join(", ")}
              onChange={(e) =>
                setDraft({
                  ...draft,
                  words: {
                    ...draft.words,
                    [key]: writtenList(e.target.value),
                  },
                })
              }
            />
            {languages.map((language) => (
              <Field
                key={language}
                label={`Answered, in ${valueNames.language(language)}`}
                value={draft.answers[key][language] ?? ""}
                onChange={(e) =>
                  setDraft({
                    ...draft,
                    answers: {
                      ...draft.answers,
                      [key]: { ...draft.answers[key], [language]: e.target.value },
                    },
                  })
                }
              />
            ))}
          </div>
        ))}
      </div>
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({ call: "POST /setup/restraint", body: tidy(draft), said: "In force from now on." })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}

/** Without the empty word that stands while somebody types a comma. */
function tidy(draft: RestraintSetup): RestraintSetup {
  const { stop, start, help } = draft.words;
  return {
    ...draft,
    words: { stop: withoutBlanks(stop), start: withoutBlanks(start), help: withoutBlanks(help) },
  };
}

/** Numbers and addresses nothing automatic goes to. */
function List() {
  const { data = [], error } = useSuppressed();
  const { data: queue } = useQueue();
  const add = useChange();
  const remove = useChange();
  const [values, setValues] = useState("");
  const [reason, setReason] = useState("");
  const [wrong, setWrong] = useState<readonly string[]>([]);
  return (
    <>
      <h2>Never on their own</h2>
      <p className={styles.intro}>
        Numbers and addresses nothing automatic goes to, whatever lead they belong to. Paste a column of a
        spreadsheet to add many.
      </p>
      {error && <p className={styles.wrong}>{error.message}</p>}
      <form
        className={styles.stack}
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate({
            call: "POST /setup/suppressed",
            body: { values, reason },
            said: (a) => `${a.added} added${a.known ? `, ${a.known} stood there already` : ""}.`,
            after: (a) => {
              setWrong(a.wrong);
              setValues(a.wrong.join("\n"));
            },
          });
        }}
      >
        <Area
          label="Numbers and addresses, one a line or with commas"
          rows={3}
          value={values}
          error={
            wrong.length > 0
              ? `Neither a phone number nor a mail address: ${wrong.slice(0, 3).join(", ")}`
              : undefined
          }
          onChange={(e) => setValues(e.target.value)}
        />
        <div className={styles.row}>
          <Field label="Why" value={reason} onChange={(e) => setReason(e.target.value)} />
          <Button type="submit" disabled={!values.trim() || add.isPending}>
            Add to the list
          </Button>
        </div>
      </form>
      {data.length === 0 ? (
        <p className={styles.quiet}>Nobody is on the list.</p>
      ) : (
        <table className={styles.table}>
          <thead>
            <tr>
              <th>Number or address</th>
              <th>Since</th>
              <th>Why</th>
              <ActsHead />
            </tr>
          </thead>
          <tbody className={styles.mid}>
            {data.map((row) => (
              <tr key={row.value}>
                <td>{row.value}</td>
                <td>
                  {dayTime(Date.parse(row.at), queue?.zone ?? "UTC", deskNow())}
                  {row.by && `, ${row.by}`}
                </td>
                <td>{row.reason}</td>
                <td>
                  <Button
                    look="bare"
                    aria-label={`Take ${row.value} off the list`}
                    onClick={() =>
                      remove.mutate({
                        call: "POST /setup/suppressed/remove",
                        body: { value: row.value },
                        said: `${row.value} may be written to again.`,
                      })
                    }
                  >
                    Take off
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
