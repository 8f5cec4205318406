import type { RefObject } from "react";
import type { Put } from "../../live/address.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import type { Person, Queue } from "../../wire/schemas.ts";
import styles from "./QueueFilter.module.css";

const WHO = [
  { who: null, said: "All" },
  { who: "me", said: "Mine" },
  { who: "offered", said: "Offered" },
  { who: "nobody", said: "Nobody’s" },
] as const;

interface Props {
  /** What of the queue is shown, as it stands in the address; null for all of it. */
  readonly who: string | null;
  readonly source: string | null;
  readonly onWho: Put;
  readonly onSource: Put;
  readonly sources: Queue["sources"];
  /** Whose leads one may look at; empty for those who see their own alone. */
  readonly people: readonly Person[];
  /** The first thing to press, for the key that leads here. */
  readonly first: RefObject<HTMLFieldSetElement | null>;
}

/** Only some of the queue: one's own, what is offered, what nobody has, one person's, what came from one source. */
export function QueueFilter({ who, source, onWho, onSource, sources, people, first }: Props) {
  const isPerson = people.some((p) => p.id === who);
  const put = (value: string | null) => onWho(value, { replace: true });
  return (
    <fieldset ref={first} className={styles.filter} aria-label="Only some of the queue">
      {people.length > 0 && (
        <>
          <span className={styles.who}>
            {WHO.map(({ who: one, said }) => (
              <button key={said} type="button" aria-pressed={(who ?? null) === one} onClick={() => put(one)}>
                {said}
              </button>
            ))}
          </span>
          <span className={styles.wide}>
            <Choice
              label="Whose leads"
              quiet
              value={isPerson ? who! : ""}
              options={[
                { value: "", label: "with …" },
                ...people.map((p) => ({ value: p.id, label: `with ${p.name}` })),
              ]}
              onChange={(id) => put(id || null)}
            />
          </span>
        </>
      )}
      <Choice
        label="From which source"
        quiet
        value={source ?? ""}
        options={[
          { value: "", label: "from all sources" },
          ...sources.map((s) => ({ value: s.id, label: `from ${s.name}` })),
        ]}
        onChange={(id) => onSource(id || null, { replace: true })}
      />
      {(who || source) && (
        <span className={styles.wide}>
          <Button
            look="bare"
            onClick={() => {
              put(null);
              onSource(null, { replace: true });
            }}
          >
            All again
          </Button>
        </span>
      )}
    </fieldset>
  );
}
