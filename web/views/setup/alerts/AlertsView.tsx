import { useState } from "react";
import { notifying } from "../../../live/notify.ts";
import { useMe } from "../../../live/queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useAlerts, useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import type { AlertsSetup } from "../../../wire/answering-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";

/** By which ways everybody hears of what. */
export function AlertsView() {
  return (
    <SetupFrame place="Alerts">
      <Alerts />
    </SetupFrame>
  );
}

const COLUMNS = [
  { key: "chat", name: "Chat" },
  { key: "text", name: "Text" },
  { key: "email", name: "Email" },
  { key: "browser", name: "Browser" },
] as const;
type AlertColumn = (typeof COLUMNS)[number]["key"];

function Alerts() {
  const { data, error } = useAlerts();
  const { data: me } = useMe();
  const save = useChange();
  const trial = useChange();
  const [personId, setPerson] = useState("");
  const person = data?.people.find((p) => p.id === personId) ?? null;
  const kept = person ? person.own : data?.usual;
  const [draft, setDraft] = useSetupDraft<AlertsSetup["usual"]>(
    `alerts:${personId ?? "usual"}`,
    kept ?? null,
  );
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!data || !draft) return <p className={styles.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(kept);
  const waysOf = (about: string) => draft[about] ?? (person ? data.usual[about] : undefined) ?? [];
  const toggle = (about: string, way: AlertColumn) => {
    const ways = waysOf(about);
    setDraft({ ...draft, [about]: ways.includes(way) ? ways.filter((w) => w !== way) : [...ways, way] });
  };
  const inherit = (about: string) => {
    const { [about]: _, ...rest } = draft;
    setDraft(rest);
  };
  return (
    <>
      <h1>Alerts</h1>
      <p className={styles.intro}>
        Outside somebody’s hours an alert waits until they begin again. What is marked <em>at any hour</em>{" "}
        does not wait: a bell is about to ring, or has rung.
      </p>
      <div className={styles.row}>
        <Choice
          label="For whom"
          value={personId}
          options={[
            { value: "", label: "Everybody who has not chosen otherwise" },
            ...data.people.map((p) => ({ value: p.id, label: p.name, group: p.role })),
          ]}
          onChange={setPerson}
        />
        <Browser />
      </div>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>What happens</th>
            {COLUMNS.map((w) => (
              <th key={w.key}>{w.name}</th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody className={styles.mid}>
          {data.events.map(({ about, name, urgent }) => (
            <tr key={about}>
              <td>
                {name} {urgent && <em className={styles.quiet}>at any hour</em>}
              </td>
              {COLUMNS.map((w) => (
                <td key={w.key}>
                  <label className={styles.tick}>
                    <input
                      type="checkbox"
                      aria-label={`${name}: ${w.name.toLowerCase()}`}
                      checked={waysOf(about).includes(w.key)}
                      onChange={() => toggle(about, w.key)}
                    />
                  </label>
                </td>
              ))}
              <td>
                {person && about in draft && (
                  <Button look="bare" aria-label={`${name}: like everybody`} onClick={() => inherit(about)}>
                    Like everybody
                  </Button>
                )}
                <Button
                  look="bare"
                  aria-label={`Send me a test: ${name}`}
                  disabled={changed || (person !== null && person.id !== me?.id)}
                  onClick={() =>
                    trial.mutate({
                      call: "POST /setup/alerts/test",
                      body: { about },
                      said: ({ ways }) =>
                        ways.length > 0
                          ? `A test is on its way to you by ${ways.join(", ")}.`
                          : "You hear of this by no way, so nothing was sent.",
                    })
                  }
                >
                  Send me a test
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {changed && (
        <div className={styles.bar}>
          <Button
            look="strong"
            disabled={save.isPending}
            onClick={() =>
              save.mutate({
                call: "POST /setup/alerts",
                body: { personId: person?.id ?? null, matrix: draft },
                said: "In force from now on.",
              })
            }
          >
            Put in force
          </Button>
          <Button look="bare" onClick={() => setDraft(kept ?? null)}>
            Discard changes
          </Button>
        </div>
      )}
    </>
  );
}

/** Whether this browser may show notifications; asked only when somebody presses. */
function Browser() {
  const [stands, setStands] = useState(notifying);
  if (stands === "yes") return <span className={styles.quiet}>This browser shows notifications.</span>;
  if (stands === "no")
    return <span className={styles.quiet}>This browser does not allow notifications from here.</span>;
  return (
    <Button onClick={() => void Notification.requestPermission().then(() => setStands(notifying()))}>
      Let this browser notify me
    </Button>
  );
}
