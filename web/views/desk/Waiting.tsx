import { bothTimes } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useAct, useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import type { Sheet } from "../../wire/schemas.ts";
import styles from "./Composer.module.css";

/** Messages to this lead that wait for their time; each can be taken back before it goes. */
export function Waiting({ sheet }: { readonly sheet: Sheet }) {
  const act = useAct();
  const { data: queue } = useQueue();
  if (sheet.scheduled.length === 0) return null;
  return (
    <ul className={styles.waiting} aria-label="Messages for later">
      {sheet.scheduled.map((item) => (
        <li key={item.id}>
          <span>
            {item.channel === "email" ? "Email" : "Text"} goes{" "}
            <b>
              {bothTimes(Date.parse(item.at), sheet.theirZone, queue?.zone ?? sheet.theirZone, deskNow())}
            </b>
            : {item.what}
            {item.by && `, by ${item.by}`}
          </span>
          <Button
            look="bare"
            onClick={() =>
              act.mutate({
                leadId: sheet.lead.id,
                act: "unschedule",
                body: { id: item.id },
                said: "It will not go.",
              })
            }
          >
            Take back
          </Button>
        </li>
      ))}
    </ul>
  );
}
