import { Pin } from "lucide-react";
import { useListAct } from "../../live/list-queries.ts";
import type { SavedList } from "../../wire/list-schemas.ts";
import styles from "./Leads.module.css";

interface Props {
  readonly lists: readonly SavedList[];
  readonly chosen: string | null;
  readonly onOpen: (id: string | null) => void;
}

/** The lists one has, those one has pinned first, with how many leads each has and what is new. */
export function ListRail({ lists, chosen, onOpen }: Props) {
  const { look } = useListAct();
  const sorted = [...lists].sort((a, b) => Number(b.pinned) - Number(a.pinned));
  return (
    <nav className={styles.rail} aria-label="Lists">
      <ul>
        <li>
          <button
            type="button"
            aria-current={chosen === null ? "true" : undefined}
            onClick={() => onOpen(null)}
          >
            All leads
          </button>
        </li>
        {sorted.map((list) => (
          <li key={list.id}>
            <button
              type="button"
              aria-current={chosen === list.id ? "true" : undefined}
              title={list.where ? `Where ${list.said}` : "Every lead there is"}
              onClick={() => onOpen(list.id)}
            >
              <span>{list.name}</span>
              <small>
                {list.count ?? ""}
                {!!list.fresh && list.seenAt && <b>, {list.fresh} new</b>}
              </small>
            </button>
            <button
              type="button"
              className={styles.pin}
              aria-pressed={list.pinned}
              aria-label={`Pin ${list.name}`}
              onClick={() => look.mutate({ id: list.id, pinned: !list.pinned })}
            >
              <Pin size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      {lists.length === 0 && <p>A filter you use again is kept here: filter, then “Keep as a list”.</p>}
    </nav>
  );
}
