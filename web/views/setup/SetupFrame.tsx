import { type ReactNode, useEffect, useRef } from "react";
import { App } from "../../frame/App.tsx";
import { SETUP, type SetupPlace } from "../../frame/places.ts";
import { useMe, useQueue } from "../../live/queries.ts";
import { Choice } from "../../ui/Choice.tsx";
import styles from "./Setup.module.css";

/** What every page of Set-up stands in. */
export function SetupFrame({
  place,
  children,
}: {
  readonly place: SetupPlace;
  readonly children: ReactNode;
}) {
  return (
    <App view="Set-up">
      <div className={styles.frame}>
        <Places place={place} />
        <main className={styles.page}>{children}</main>
      </div>
    </App>
  );
}

function Places({ place }: { readonly place: SetupPlace }) {
  const { data: me } = useMe();
  const nav = useRef<HTMLElement>(null);
  const mayAll = me?.rights.length;
  // The list is longer than a small window, and longer still once it is known what one may: where one is lies in sight.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is drawn anew when these change
  useEffect(() => {
    nav.current?.querySelector("[aria-current]")?.scrollIntoView({ block: "nearest", inline: "center" });
  }, [place, mayAll]);
  const groups = SETUP.map(({ about, places }) => ({
    about,
    shown: places.filter(
      (p) =>
        (!("needs" in p) || me?.rights.includes(p.needs)) &&
        // Once all are done they are out of the way, unless one is there.
        (p.name !== "First steps" || p.name === place || !!me?.firstSteps),
    ),
  })).filter(({ shown }) => shown.length > 0);
  return (
    <>
      <nav className={styles.places} aria-label="Set-up" ref={nav}>
        {groups.map(({ about, shown }) => (
          <div key={about}>
            <span className={styles.group}>{about}</span>
            {shown.map(({ name, href }) => (
              <a key={name} href={href} aria-current={name === place ? "page" : undefined}>
                {name}
                {name === "Quarantine" && <Waiting />}
              </a>
            ))}
          </div>
        ))}
      </nav>
      {/* Thirty places fit no phone side by side. */}
      <div className={styles.placesPhone}>
        <Choice
          label="Place in Set-up"
          quiet
          value={place}
          options={groups.flatMap(({ about, shown }) =>
            shown.map(({ name }) => ({ value: name, label: name, group: about })),
          )}
          onChange={(name) => {
            const to = groups.flatMap(({ shown }) => shown).find((p) => p.name === name);
            if (to) location.assign(to.href);
          }}
        />
      </div>
    </>
  );
}

function Waiting() {
  const { data } = useQueue();
  return data && data.quarantined > 0 ? <span className={styles.waits}>{data.quarantined}</span> : null;
}
