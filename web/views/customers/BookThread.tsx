import { useState } from "react";
import { dateTime } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { Button } from "../../ui/Button.tsx";
import type { Deal } from "../../wire/customer-schemas.ts";
import styles from "./BookThread.module.css";

const FIRST = 12;

/** Everything that ever happened, the newest first; more of it on asking. */
export function BookThread({ items, zone }: { readonly items: Deal["thread"]; readonly zone: string }) {
  const [all, setAll] = useState(false);
  const shown = all ? items : items.slice(0, FIRST);
  return (
    <>
      <ol className={styles.thread}>
        {shown.map((item, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: it only grows, and is drawn whole
          <li key={i}>
            <time dateTime={item.at}>{dateTime(Date.parse(item.at), zone, deskNow())}</time>
            <span>
              {item.said} <small>{[item.actor, item.what].filter(Boolean).join(" · ")}</small>
            </span>
          </li>
        ))}
      </ol>
      {items.length > FIRST && (
        <Button look="bare" onClick={() => setAll(!all)}>
          {all ? "Only the newest" : `All ${items.length}`}
        </Button>
      )}
    </>
  );
}
