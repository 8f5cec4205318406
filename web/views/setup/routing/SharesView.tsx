import { useMemo, useState } from "react";
import { GROUP_WAYS } from "../../../../core/policy/people.ts";
import { useFairShare } from "../../../live/routing-queries.ts";
import { Bars } from "../../../ui/Chart.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import type { FairShare } from "../../../wire/routing-schemas.ts";
import { SPANS } from "../hours/spans.ts";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Routing.module.css";

/** How hand-offs really fell out: what each was offered against what they should have been. */
export function SharesView() {
  return (
    <SetupFrame place="Fair share">
      <Shares />
    </SetupFrame>
  );
}

function Shares() {
  const [days, setDays] = useState("30");
  const { data, error } = useFairShare(days);
  return (
    <>
      <div className={setup.top}>
        <h1>Fair share</h1>
        <Choice label="Span" quiet value={days} options={SPANS} onChange={setDays} />
      </div>
      <p className={setup.intro}>
        Due is what would have been somebody’s, had each offer been split among those who could have it at
        that moment: whoever was away or full is owed nothing.
      </p>
      {error && <p className={setup.wrong}>{error.message}</p>}
      {!data && !error && <p className={setup.quiet}>Counting …</p>}
      {data?.groups.length === 0 && <Empty title="No group yet">Groups are made under People.</Empty>}
      {data?.groups.map((g) => (
        <Group key={g.id} group={g} />
      ))}
    </>
  );
}

const figure = (n: number) => (Number.isInteger(n) ? String(n) : n.toFixed(1));

function Group({ group }: { readonly group: FairShare["groups"][number] }) {
  const chart = useMemo(
    () => ({
      names: group.people.map((p) => p.name),
      series: [
        { name: "due", values: group.people.map((p) => Math.round(p.wanted * 10) / 10), faint: true },
        { name: "offered", values: group.people.map((p) => p.offered) },
      ],
    }),
    [group],
  );
  return (
    <section aria-label={group.name}>
      <h2>{group.name}</h2>
      <p>
        {group.offered} offers by {GROUP_WAYS[group.way]}.
        {group.jain !== null &&
          ` Jain’s index of what each got against what was due: ${group.jain.toFixed(3)}.`}{" "}
        {group.next ? (
          <>
            Next in turn: <b>{group.next.name}</b>, who {group.next.reason}.
          </>
        ) : (
          "Nobody is next in turn just now."
        )}
      </p>
      {group.offered > 0 && (
        <Bars
          label={`Offers in ${group.name}, due and had`}
          unit="offers"
          names={chart.names}
          series={chart.series}
          className={styles.chart}
        />
      )}
      <div className={setup.scroll}>
        <table className={setup.table}>
          <thead>
            <tr>
              <th>Person</th>
              <th className={styles.num}>Due</th>
              <th className={styles.num}>Offered</th>
              <th className={styles.num}>Taken</th>
              <th className={styles.num}>Passed</th>
              <th className={styles.num}>Lapsed</th>
              <th className={styles.num}>Turn given back</th>
              <th className={styles.num}>Open now</th>
            </tr>
          </thead>
          <tbody>
            {group.people.map((p) => (
              <tr key={p.id}>
                <td>{p.name}</td>
                <td className={styles.num}>{figure(p.wanted)}</td>
                <td className={styles.num}>{p.offered}</td>
                <td className={styles.num}>{p.taken}</td>
                <td className={styles.num}>{p.passed}</td>
                <td className={styles.num}>{p.lapsed}</td>
                <td className={styles.num}>{p.credited}</td>
                <td className={styles.num}>{p.openNow}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
