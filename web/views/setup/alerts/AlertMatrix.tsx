import { useState } from "react";
import { notifying } from "../../../live/notify.ts";
import { useMe } from "../../../live/queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useAlerts, useChange } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import type { AlertsSetup } from "../../../wire/answering-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";

const COLUMNS = [
  { key: "chat", name: "Chat" },
  { key: "text", name: "Text" },
  { key: "email", name: "Email" },
  { key: "browser", name: "Browser" },
] as const;
type AlertColumn = (typeof COLUMNS)[number]["key"];

/** By which ways somebody hears of what; everybody who has not chosen otherwise, when `personId` is null. */
export function AlertMatrix({ personId }: { readonly personId: string | null }) {
  const { data, error } = useAlerts();
  const { data: me } = useMe();
  const save = useChange();
  const trial = useChange();
  const person = data?.people.find((p) => p.id === personId) ?? null;
  const kept = personId === null ? data?.usual : person?.own;
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
      <table className={styles.table}>
        <thead>
          <tr>
            <th>What happens</th>
            {COLUMNS.map((w) => (
              <th key={w.key}>{w.name}</th>
            ))}
            <ActsHead />
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
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/alerts",
              body: { personId, matrix: draft },
              said: "In force from now on.",
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}

/** Whether this browser may show notifications; asked only when somebody presses. */
export function Browser() {
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
