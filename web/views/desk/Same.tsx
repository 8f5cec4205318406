import { called } from "../../../core/lead/called.ts";
import { useAct } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import type { Sheet } from "../../wire/schemas.ts";
import styles from "./Same.module.css";

/** Leads that may be the same person, with the reasons, and those that were joined: together or apart by one press. */
export function Same({ sheet }: { readonly sheet: Sheet }) {
  const act = useAct();
  const { lead, maybe, joined } = sheet;
  const leadId = lead.id;
  if (maybe.length === 0 && joined.length === 0 && !lead.joinedTo) return null;
  return (
    <section className={styles.same} aria-label="The same person">
      {lead.joinedTo && (
        <p>
          This lead was joined to <a href={`/?lead=${lead.joinedTo}`}>another one</a> and is worked there.
        </p>
      )}
      {maybe.map((m) => (
        <div key={m.leadId} className={styles.one}>
          <p>
            Same person as <a href={`/?lead=${m.leadId}`}>{m.name ?? "a lead without a name"}</a>? {m.about}
          </p>
          <ul>
            {m.evidence.map((e) => (
              <li key={e.said}>
                <b>
                  {e.points > 0 ? "+" : "−"}
                  {Math.abs(e.points)}
                </b>{" "}
                {e.said}
              </li>
            ))}
          </ul>
          <p className={styles.acts}>
            <Button
              onClick={() =>
                act.mutate({
                  leadId,
                  act: "join",
                  body: { with: m.leadId },
                  said: `${called(lead)} is one lead now.`,
                  undoable: false,
                })
              }
            >
              Yes, join them
            </Button>
            <Button
              look="bare"
              onClick={() =>
                act.mutate({
                  leadId,
                  act: "not-same",
                  body: { leadId: m.leadId },
                  said: "Kept apart. It won’t be asked again.",
                  undoable: false,
                })
              }
            >
              Different person
            </Button>
          </p>
        </div>
      ))}
      {joined.map((j) => (
        <p key={j.id} className={styles.acts}>
          {j.name ?? "Another lead"} is joined to this one.
          <Button
            look="bare"
            onClick={() =>
              act.mutate({
                leadId,
                act: "part",
                body: { from: j.id },
                said: "They are two leads again.",
                undoable: false,
              })
            }
          >
            Take apart
          </Button>
        </p>
      ))}
    </section>
  );
}
