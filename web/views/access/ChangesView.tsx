import { useState } from "react";
import { dayTime } from "../../../core/time/words.ts";
import { useAudit } from "../../live/access-queries.ts";
import { useNow } from "../../live/clock.ts";
import { usePeople, useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Field } from "../../ui/Field.tsx";
import type { Audit } from "../../wire/routing-schemas.ts";
import setup from "../setup/Setup.module.css";
import { SetupFrame } from "../setup/SetupFrame.tsx";
import styles from "./Changes.module.css";

/** Who changed what in Set-up, and what it was before. */
export function ChangesView() {
  return (
    <SetupFrame place="Changes">
      <Changes />
    </SetupFrame>
  );
}

const ANY = { by: "", about: "", from: "", to: "" };

function Changes() {
  const [asked, setAsked] = useState(ANY);
  const { data, error, hasNextPage, fetchNextPage, isFetching } = useAudit(asked);
  const { data: people = [] } = usePeople();
  const { data: queue } = useQueue();
  const put = (part: Partial<typeof ANY>) => setAsked({ ...asked, ...part });
  const entries = data?.pages.flatMap((page) => page.items);
  return (
    <>
      <h1>Changes</h1>
      <p className={setup.intro}>
        Every change of a policy, a person, a role, a key or somebody’s duty, the newest first.
      </p>
      <search className={styles.asked}>
        <Choice
          label="Who"
          value={asked.by}
          options={[
            { value: "", label: "anybody" },
            ...people.map(({ id, name }) => ({ value: id, label: name })),
          ]}
          onChange={(by) => put({ by })}
        />
        <Field
          label="What"
          placeholder="rules, a name, duty …"
          value={asked.about}
          onChange={(e) => put({ about: e.target.value })}
        />
        <Field label="From" type="date" value={asked.from} onChange={(e) => put({ from: e.target.value })} />
        <Field label="To" type="date" value={asked.to} onChange={(e) => put({ to: e.target.value })} />
        {JSON.stringify(asked) !== JSON.stringify(ANY) && (
          <Button look="bare" onClick={() => setAsked(ANY)}>
            All of them
          </Button>
        )}
      </search>
      {error && <p className={setup.wrong}>{error.message}</p>}
      {!error && !entries && <p className={setup.quiet}>Looking …</p>}
      {entries?.length === 0 &&
        (asked === ANY ? (
          <Empty title="Nothing was changed yet">What anybody changes in Set-up is listed here.</Empty>
        ) : (
          <Empty title="No such change">Ask for less, or for all of them.</Empty>
        ))}
      <ol className={styles.list}>
        {entries?.map((entry) => (
          <Entry key={entry.n} entry={entry} zone={queue?.zone ?? "UTC"} />
        ))}
      </ol>
      {hasNextPage && (
        <Button disabled={isFetching} onClick={() => void fetchNextPage()}>
          Show older ones
        </Button>
      )}
    </>
  );
}

/** So many differences of one change are read at a glance; the rest lie folded. */
const GLANCE = 4;

function Entry({ entry, zone }: { readonly entry: Audit; readonly zone: string }) {
  const now = useNow();
  const [open, setOpen] = useState(false);
  const more = entry.differs.length - GLANCE;
  return (
    <li data-row tabIndex={-1} className={styles.entry}>
      <p>
        <time dateTime={entry.at}>{dayTime(Date.parse(entry.at), zone, now)}</time> <b>{entry.by}</b>
        {entry.via && <span className={setup.quiet}> by the key “{entry.via}”</span>} {entry.what}
      </p>
      <ul>
        {(open ? entry.differs : entry.differs.slice(0, GLANCE)).map(({ where, was, is }) => (
          <li key={where.join("›")}>
            {where.length > 0 && <span className={styles.where}>{where.join(", ")}: </span>}
            {was === null ? (
              <>new: {is}</>
            ) : is === null ? (
              <>
                gone: <del>{was}</del>
              </>
            ) : (
              <>
                <del>{was}</del> is now {is}
              </>
            )}
          </li>
        ))}
      </ul>
      {more > 0 && (
        <Button look="bare" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Less" : `${more} more`}
        </Button>
      )}
    </li>
  );
}
