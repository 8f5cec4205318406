import { usePeople } from "../../../live/queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useCallsSetup, useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { CallsSetup } from "../../../wire/answering-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { OutcomeEditor } from "./OutcomeEditor.tsx";

/** What a call can come to and what follows from it; and how leads book one. */
export function CallsView() {
  return (
    <SetupFrame place="Calls">
      <Calls />
    </SetupFrame>
  );
}

function Calls() {
  const { data, error } = useCallsSetup();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<CallsSetup>("calls", data ?? null);
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={styles.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(data);
  const { outcomes } = draft;
  const put = (next: CallsSetup["outcomes"]) => setDraft({ ...draft, outcomes: next });
  return (
    <>
      <div className={styles.top}>
        <h1>Calls</h1>
        <Button
          onClick={() =>
            put([
              ...outcomes,
              { key: "", name: "", reached: false, next: { kind: "call", note: "Call again", days: 1 } },
            ])
          }
        >
          Another outcome
        </Button>
      </div>
      <p className={styles.intro}>
        Whoever has called says with one key what came of it; what is set here follows on its own. The first
        nine can be chosen by number.
      </p>
      {outcomes.map((outcome, i) => (
        <OutcomeEditor
          // biome-ignore lint/suspicious/noArrayIndexKey: a new one has no key yet
          key={i}
          number={i + 1}
          outcome={outcome}
          onChange={(o) => put(outcomes.map((x, j) => (i === j ? o : x)))}
          onRemove={() => put(outcomes.filter((_, j) => i !== j))}
        />
      ))}
      <Booking draft={draft} onChange={setDraft} />
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({ call: "POST /setup/calls", body: draft, said: "In force from now on." })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}

const LENGTHS = [
  { key: "minutes", name: "A call lasts, minutes" },
  { key: "bufferMinutes", name: "Kept free around it, minutes" },
  { key: "noticeMinutes", name: "Not sooner than in, minutes" },
  { key: "daysAhead", name: "Not further ahead than, days" },
] as const;

interface BookingProps {
  readonly draft: CallsSetup;
  readonly onChange: (draft: CallsSetup) => void;
}

function Booking({ draft, onChange }: BookingProps) {
  const { booking } = draft;
  const { data: people = [] } = usePeople();
  const put = (change: Partial<CallsSetup["booking"]>) =>
    onChange({ ...draft, booking: { ...booking, ...change } });
  return (
    <>
      <h2>Booking</h2>
      <p className={styles.intro}>
        Templates and messages carry the link by “Link to book a call”. The lead sees the free times of
        whoever has them, in their own zone; while nobody has them, those of the people ticked here.
      </p>
      <div className={styles.fields}>
        {LENGTHS.map(({ key, name }) => (
          <Field
            key={key}
            label={name}
            type="number"
            min={0}
            value={booking[key]}
            onChange={(e) => put({ [key]: Number(e.target.value) })}
          />
        ))}
      </div>
      <div className={styles.row}>
        {people
          .filter((p) => p.role === "salesperson" || booking.people.includes(p.id))
          .map((p) => (
            <label key={p.id} className={styles.check}>
              <input
                type="checkbox"
                checked={booking.people.includes(p.id)}
                onChange={(e) =>
                  put({
                    people: e.target.checked
                      ? [...booking.people, p.id]
                      : booking.people.filter((id) => id !== p.id),
                  })
                }
              />
              {p.name}
            </label>
          ))}
      </div>
    </>
  );
}
