import { dayTime } from "../../../core/time/words.ts";
import { useAudit } from "../../live/access-queries.ts";
import { useNow } from "../../live/clock.ts";
import { useQueue } from "../../live/queries.ts";
import { Empty } from "../../ui/Empty.tsx";
import setup from "../setup/Setup.module.css";
import { SetupFrame } from "../setup/SetupFrame.tsx";

/** Who changed what in Set-up, and what it was before. */
export function ChangesView() {
  return (
    <SetupFrame place="Changes">
      <Changes />
    </SetupFrame>
  );
}

const said = (value: unknown) => (value === null ? "nothing" : JSON.stringify(value, null, 1));

function Changes() {
  const { data, error } = useAudit();
  const { data: queue } = useQueue();
  const now = useNow();
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  return (
    <>
      <h1>Changes</h1>
      <p className={setup.intro}>Every change of a policy, a person, a role or a key, the newest first.</p>
      {data?.length === 0 && (
        <Empty title="Nothing was changed yet">What anybody changes in Set-up is listed here.</Empty>
      )}
      {data?.map((entry) => (
        <details key={entry.n} className={setup.outcome}>
          <summary data-row>
            {dayTime(Date.parse(entry.at), queue?.zone ?? "UTC", now)}, <b>{entry.by}</b>
            {entry.via && ` (by the key “${entry.via}”)`}: {entry.what}
          </summary>
          <div className={setup.fields}>
            <div>
              <p className={setup.quiet}>Before</p>
              <pre className={setup.code}>{said(entry.before)}</pre>
            </div>
            <div>
              <p className={setup.quiet}>After</p>
              <pre className={setup.code}>{said(entry.after)}</pre>
            </div>
          </div>
        </details>
      ))}
    </>
  );
}
