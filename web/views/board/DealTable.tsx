import { sayDay } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useQueue } from "../../live/queries.ts";
import type { DealCard } from "../../wire/customer-schemas.ts";
import styles from "./DealTable.module.css";
import { sayWhole } from "./lanes.ts";

/** The same deals as a table. */
export function DealTable({
  deals,
  names,
  chosen,
  onChoose,
}: {
  readonly deals: readonly DealCard[];
  readonly names: ReadonlyMap<string, string>;
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
}) {
  const { data: queue } = useQueue();
  const zone = queue?.zone ?? "UTC";
  return (
    <div className={styles.scroller}>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Who</th>
            <th scope="col">What</th>
            <th scope="col">Stage</th>
            <th scope="col" className={styles.figure}>
              Value
            </th>
            <th scope="col">Here for</th>
            <th scope="col">Expected</th>
            <th scope="col">Next</th>
            <th scope="col">Owner</th>
          </tr>
        </thead>
        <tbody>
          {deals.map((deal) => (
            <tr
              key={deal.id}
              data-chosen={deal.id === chosen || undefined}
              data-slips={deal.slips.length > 0 || undefined}
            >
              <th scope="row">
                <button type="button" data-row onClick={() => onChoose(deal.id)}>
                  {deal.slips.length > 0 && <span title={deal.slipSaid.join("; ")}>▲ </span>}
                  {deal.who}
                </button>
              </th>
              <td>{deal.what ?? deal.name}</td>
              <td>
                {names.get(deal.stage) ?? deal.stage}
                {deal.closed && <small> {deal.closed.reason}</small>}
              </td>
              <td className={styles.figure}>{sayWhole(deal.value, deal.currency)}</td>
              <td>{deal.stay}</td>
              <td>{deal.expectedOn ? sayDay(deal.expectedOn, zone, deskNow()) : "–"}</td>
              <td>{deal.nextStep?.note ?? (deal.tasks > 0 ? `${deal.tasks} to do` : "–")}</td>
              <td>{deal.owner?.name ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {deals.length === 0 && <p className={styles.none}>No deal fits.</p>}
    </div>
  );
}
