import { useState } from "react";
import { dateTime } from "../../../../core/time/words.ts";
import type { AnswerOf, SentTo } from "../../../calls/table.ts";
import { useInAddress } from "../../../live/address.ts";
import { call } from "../../../live/api.ts";
import { deskNow } from "../../../live/clock.ts";
import { freshId } from "../../../live/fresh-id.ts";
import { useEditing, useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { usePrivacy } from "../../../live/ways-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import hidden from "../../../ui/hidden.module.css";
import { Scrolls } from "../../../ui/Scrolls.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { Privacy, RetentionRule } from "../../../wire/privacy-schemas.ts";
import { KeepButton } from "../../desk/PersonData.tsx";
import { EditorDialog } from "../EditorDialog.tsx";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import tables from "../Table.module.css";
import own from "./Privacy.module.css";

/** Who is to be erased, who was, and how long people are kept. */
export function PrivacyView() {
  return (
    <SetupFrame place="People’s data">
      <Shown />
    </SetupFrame>
  );
}

function Shown() {
  const { data, error } = usePrivacy();
  if (error && !data) return <p className={styles.wrong}>{error.message}</p>;
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  return (
    <>
      <h1>People’s data</h1>
      <p className={styles.intro}>
        Whoever asks what is kept of them is handed all of it, and whoever wants it erased is erased: on their
        lead, under More, “What is kept”. Counts stay, and name nobody.
      </p>
      <Waiting data={data} />
      <Rules data={data} />
      <Done data={data} />
    </>
  );
}

const when = (time: string, zone: string) => dateTime(Date.parse(time), zone, deskNow());

function Waiting({ data: { waiting, waitingCount, zone } }: { readonly data: Privacy }) {
  return (
    <>
      <h2>To be erased</h2>
      {waiting.length === 0 ? (
        <Empty title="Nobody is to be erased" />
      ) : (
        <Scrolls label="To be erased">
          <table className={tables.table}>
            <thead>
              <tr>
                <th scope="col">Who</th>
                <th scope="col">Why</th>
                <th scope="col">When</th>
                <th scope="col">
                  <span className={hidden.hidden}>Keep</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {waiting.map((e) => (
                <tr key={e.id}>
                  <th scope="row">
                    <a href={`/?lead=${e.leadId}`}>{e.who}</a>
                  </th>
                  <td>
                    {[e.by ? `Asked for by ${e.by}` : "By the rule", e.because].filter(Boolean).join(": ")}
                  </td>
                  <td>{when(e.dueAt, zone)}</td>
                  <td>
                    <KeepButton id={e.id} name={e.who} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolls>
      )}
      {waitingCount > waiting.length && (
        <p className={styles.quiet}>
          And {(waitingCount - waiting.length).toLocaleString("en")} more after them.
        </p>
      )}
    </>
  );
}

function Done({ data: { done, doneCount, kept, zone } }: { readonly data: Privacy }) {
  return (
    <>
      <h2>Erased</h2>
      {done.length === 0 ? (
        <p className={styles.quiet}>Nobody yet.</p>
      ) : (
        <Scrolls label="Erased">
          <table className={tables.table}>
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">Asked for by</th>
                <th scope="col">What went</th>
                <th scope="col">Backups that still hold them</th>
              </tr>
            </thead>
            <tbody>
              {done.map((e) => (
                <tr key={e.id}>
                  <th scope="row">
                    <a href={`/?lead=${e.leadId}`}>{e.doneAt && when(e.doneAt, zone)}</a>
                  </th>
                  <td>{e.by ?? `the rule ${e.because}`}</td>
                  <td className={tables.long}>{e.said}</td>
                  <td className={tables.long}>{e.backups.length === 0 ? "none" : e.backups.join(", ")}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolls>
      )}
      {doneCount > done.length && (
        <p className={styles.quiet}>And {(doneCount - done.length).toLocaleString("en")} before them.</p>
      )}
      {kept.length > 0 && (
        <details>
          <summary>Kept after all</summary>
          <ul>
            {kept.map((e) => (
              <li key={e.id}>
                <a href={`/?lead=${e.leadId}`}>{e.who}</a>: {e.said}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

type Draft = Pick<Privacy, "rules" | "noticeDays">;
const draftOf = ({ rules, noticeDays }: Privacy): Draft => ({ rules, noticeDays });

/** Stands for what is begun and not kept yet. */
const NEW = "new";
/** Switched off, like every new rule of the desk. */
const NEW_RULE: RetentionRule = {
  id: NEW,
  name: "Never reached",
  when: { all: [{ field: "reached", is: "equal", value: "no" }] },
  quietDays: 548,
  off: true,
};

const span = (days: number) =>
  days % 365 === 0
    ? `${days / 365} ${days === 365 ? "year" : "years"}`
    : days >= 90
      ? `about ${Math.round(days / 30.4)} months`
      : `${days} days`;

function Rules({ data }: { readonly data: Privacy }) {
  const save = useChange();
  const [ruleId, openRule] = useInAddress("rule");
  const [draft, setDraft] = useSetupDraft<Draft>("privacy", draftOf(data));
  const shown = draft ?? draftOf(data);
  const changed = JSON.stringify(shown) !== JSON.stringify(draftOf(data));
  const put = (part: Partial<Draft>) => setDraft({ ...shown, ...part });
  const putRule = (next: RetentionRule) =>
    put({
      rules:
        next.id === NEW
          ? [...shown.rules, { ...next, id: freshId("keep") }]
          : shown.rules.map((r) => (r.id === next.id ? next : r)),
    });
  const rule = shown.rules.find((r) => r.id === ruleId) ?? (ruleId === NEW ? NEW_RULE : null);
  return (
    <>
      <div className={styles.top}>
        <h2>How long people are kept</h2>
        <Button onClick={() => openRule(NEW)}>Add a rule</Button>
      </div>
      {shown.rules.length === 0 && (
        <p className={styles.quiet}>
          As long as nobody asks. A rule erases those nobody has use for any more.
        </p>
      )}
      <ul className={own.rules}>
        {shown.rules.map((r) => (
          <li key={r.id} data-off={r.off || undefined}>
            <button type="button" className={styles.open} data-row onClick={() => openRule(r.id)}>
              {r.name}
            </button>
            {r.off && " (switched off)"}
            <p className={styles.quiet}>
              Erased after {span(r.quietDays)} without anything having happened
              {data.sentences[r.id] && `: ${data.sentences[r.id]}`}
            </p>
            <Button
              look="bare"
              aria-label={`${r.off ? "Switch on" : "Switch off"} ${r.name}`}
              onClick={() => putRule({ ...r, off: !r.off })}
            >
              {r.off ? "Switch on" : "Switch off"}
            </Button>
            <Button
              look="bare"
              aria-label={`Remove ${r.name}`}
              onClick={() => put({ rules: shown.rules.filter((one) => one.id !== r.id) })}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {shown.rules.length > 0 && (
        <Field
          label="So many days before, they are listed above, and can be kept"
          type="number"
          min={1}
          max={90}
          value={String(shown.noticeDays)}
          onChange={(e) => put({ noticeDays: Number(e.target.value) })}
        />
      )}
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /privacy",
              body: shown as SentTo<"POST /privacy">,
              said: "In force from the next night on.",
              after: (now) => setDraft(draftOf(now)),
            })
          }
          draft={shown}
          onDraft={setDraft}
        />
      )}
      {rule && (
        <RuleEditor
          key={rule.id}
          rule={rule}
          data={data}
          onKeep={(next) => {
            putRule(next);
            openRule(null);
          }}
          onClose={() => openRule(null)}
        />
      )}
    </>
  );
}

interface EditorProps {
  readonly rule: RetentionRule;
  readonly data: Privacy;
  readonly onKeep: (rule: RetentionRule) => void;
  readonly onClose: () => void;
}

function RuleEditor({ rule, data, onKeep, onClose }: EditorProps) {
  const editing = useEditing(`privacy:${rule.id}`, rule);
  const { draft } = editing;
  const put = (part: Partial<RetentionRule>) => editing.put({ ...draft, ...part });
  return (
    <EditorDialog title={rule.name} editing={editing} onKeep={onKeep} onClose={onClose}>
      <h3>Whom</h3>
      <ConditionEditor
        condition={draft.when as Parameters<typeof ConditionEditor>[0]["condition"]}
        catalogue={data.catalogue}
        onChange={(next) => put({ when: next as RetentionRule["when"] })}
      />
      <Field
        label="Days without anything having happened"
        type="number"
        min={30}
        max={36500}
        required
        value={String(draft.quietDays)}
        onChange={(e) => put({ quietDays: Number(e.target.value) })}
      />
      <Whom rule={draft} zone={data.zone} />
    </EditorDialog>
  );
}

/** Whom a rule would name now: asked for, since it looks at every lead. */
function Whom({ rule, zone }: { readonly rule: RetentionRule; readonly zone: string }) {
  const say = useSay();
  const [tried, setTried] = useState<AnswerOf<"POST /privacy/try"> | null>(null);
  const look = async () => {
    const { id, when: asked, quietDays } = rule;
    try {
      setTried(
        await call("POST /privacy/try", {
          body: { id, when: asked, quietDays } as SentTo<"POST /privacy/try">,
        }),
      );
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <p>
        <Button onClick={() => void look()}>Whom would it name now?</Button>
      </p>
      {tried && (
        <div role="status">
          <p>
            {tried.count === 0
              ? "Nobody."
              : `${tried.count.toLocaleString("en")} ${tried.count === 1 ? "lead" : "leads"}, the quietest first:`}
          </p>
          <ul className={own.whom}>
            {tried.items.map((l) => (
              <li key={l.id}>
                <a href={`/?lead=${l.id}`}>{l.who}</a>, last {when(l.last, zone)}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}
