import { useQuery } from "@tanstack/react-query";
import { dayTime } from "../../../core/time/words.ts";
import { call } from "../../live/api.ts";
import { useNow } from "../../live/clock.ts";
import { useQueue } from "../../live/queries.ts";
import { Copy } from "../../ui/Copy.tsx";
import styles from "./Rehearsal.module.css";

/** What a delivery tells of, where it says so. */
function typeOf(body: string): string {
  try {
    const { type } = JSON.parse(body) as { type?: unknown };
    return typeof type === "string" ? type : "something";
  } catch {
    return "something";
  }
}

/** A system that can be told by webhook, to look at what arrives there. */
export function HookReceiver() {
  const { data } = useQuery({
    queryKey: ["deliveries", "receiver"],
    queryFn: () => call("GET /rehearsal/hooks"),
  });
  const { data: queue } = useQueue();
  const now = useNow();
  if (!data) return null;
  return (
    <details className={styles.receiver}>
      <summary>Another system{data.items.length > 0 && `, told ${data.items.length} times`}</summary>
      <p>
        Enter its address under <a href="/setup/hooks">Set-up, Other systems</a>, and see here what it is
        told:
      </p>
      <Copy text={data.url} label="Its address" />
      <ol aria-label="What it was told, newest first">
        {data.items.map(({ id, at, body }) => (
          <li key={id}>
            <details>
              <summary>
                {dayTime(Date.parse(at), queue?.zone ?? "UTC", now)} {typeOf(body)}
              </summary>
              <pre>{JSON.stringify(JSON.parse(body), null, 1)}</pre>
            </details>
          </li>
        ))}
      </ol>
    </details>
  );
}
