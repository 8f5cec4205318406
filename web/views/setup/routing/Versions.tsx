import { dayTime } from "../../../../core/time/words.ts";
import { useNow } from "../../../live/clock.ts";
import { useVersions } from "../../../live/routing-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import type { RoutingSetup, Version } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";
import styles from "./Routing.module.css";

interface Props {
  readonly data: RoutingSetup;
  readonly onBringBack: (version: Version) => void;
}

/** Every version of the rules there has been; an older one can be brought back as a draft. */
export function Versions({ data, onBringBack }: Props) {
  const { data: versions = [] } = useVersions();
  const now = useNow();
  const pointed = location.hash.replace("#version-", "");
  return (
    <>
      <h2>Versions</h2>
      {versions.map((v) => (
        <details
          key={v.version}
          id={`version-${v.version}`}
          className={styles.version}
          open={pointed === String(v.version)}
        >
          <summary>
            <b>Version {v.version}</b>
            {v.version === data.version && <span className={setup.live}> live</span>}{" "}
            <span className={setup.quiet}>
              {v.by ? `${v.by}, ` : ""}
              {dayTime(Date.parse(v.at), data.zone, now)}
              {v.note && `: ${v.note}`}
            </span>
          </summary>
          <ol>
            {v.rules.map((r) => (
              <li key={r.id}>
                <b>{r.name}</b>
                {r.off ? " (off)" : ""}: {v.sentences[r.id]}
              </li>
            ))}
          </ol>
          {v.version !== data.version && (
            <Button onClick={() => onBringBack(v)}>Bring it back as a draft</Button>
          )}
        </details>
      ))}
    </>
  );
}
