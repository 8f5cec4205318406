import { useQuery } from "@tanstack/react-query";
import { call } from "../../live/api.ts";
import { Copy } from "../../ui/Copy.tsx";
import styles from "./Rehearsal.module.css";

/** A bucket backups can be copied to, to look at what lies there. */
export function BucketStand() {
  const { data } = useQuery({
    queryKey: ["backups", "bucket"],
    queryFn: () => call("GET /rehearsal/bucket"),
  });
  if (!data) return null;
  const own = data.items.filter(({ name }) => !name.includes("files-sealed/"));
  const shared = data.items.length - own.length;
  return (
    <details className={styles.receiver}>
      <summary>A bucket for backups{data.items.length > 0 && `, ${data.items.length} files in it`}</summary>
      <p>
        Enter its address under <a href="/setup/backups">Set-up, Backups</a>, with the key “{data.keyId}” and
        the secret “{data.secret}”. It is empty again when the desk is started again.
      </p>
      <Copy text={data.url} label="Its address" />
      <ol aria-label="What lies there">
        {own.map(({ name, bytes }) => (
          <li key={name}>
            {name}, {bytes.toLocaleString("en")} bytes
          </li>
        ))}
        {shared > 0 && <li>{shared} files that came with messages</li>}
      </ol>
    </details>
  );
}
