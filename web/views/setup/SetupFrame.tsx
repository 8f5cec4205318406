import { type ReactNode, useEffect, useRef } from "react";
import { App } from "../../frame/App.tsx";
import { useMe, useQueue } from "../../live/queries.ts";
import { Choice } from "../../ui/Choice.tsx";
import styles from "./Setup.module.css";

/** The places of Set-up, by what they are about: in, out, who, when, and the house itself. */
const GROUPS = [
  {
    about: "The company",
    places: [
      { name: "First steps", href: "/setup/first-steps" },
      { name: "Company", href: "/setup/company" },
      { name: "Products", href: "/setup/products" },
      { name: "Territories", href: "/setup/territories" },
      { name: "Stages and reasons", href: "/setup/words" },
    ],
  },
  {
    about: "Coming in",
    places: [
      { name: "Sources", href: "/setup" },
      { name: "Ad platform", href: "/setup/ads" },
      { name: "Spreadsheets", href: "/setup/imports" },
      { name: "Quarantine", href: "/setup/quarantine" },
      { name: "Fields and tags", href: "/setup/fields" },
    ],
  },
  {
    about: "Answering",
    places: [
      { name: "Replies", href: "/setup/replies" },
      { name: "Templates", href: "/setup/templates" },
      { name: "Sending limits", href: "/setup/restraint" },
      { name: "Calls", href: "/setup/calls" },
    ],
  },
  {
    about: "Who gets it",
    places: [
      { name: "People", href: "/setup/people" },
      { name: "Routing", href: "/setup/routing" },
      { name: "Playback", href: "/setup/playback" },
      { name: "Fair share", href: "/setup/shares" },
    ],
  },
  {
    about: "If nobody calls",
    places: [
      { name: "Bells", href: "/setup/bells" },
      { name: "Cadences", href: "/setup/cadences" },
      { name: "Desk hours", href: "/setup/hours" },
      { name: "Parking and waking", href: "/setup/waking" },
      { name: "Alerts", href: "/setup/alerts" },
    ],
  },
  {
    about: "Administration",
    places: [
      { name: "Ways out", href: "/setup/ways", needs: "access" },
      { name: "Access", href: "/setup/access", needs: "access" },
      { name: "Changes", href: "/setup/changes", needs: "audit" },
    ],
  },
] as const;

export type SetupPlace = (typeof GROUPS)[number]["places"][number]["name"];

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
  const groups = GROUPS.map(({ about, places }) => ({
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
