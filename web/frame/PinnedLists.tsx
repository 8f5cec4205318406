import { usePinned } from "../live/list-queries.ts";
import { Menu } from "../ui/Menu.tsx";

const path = (id: string) => `/leads?list=${id}`;

/** How a pinned list stands, in a few words. */
const standing = ({ name, count, fresh }: { name: string; count: number | null; fresh: number | null }) =>
  `${name}${count === null ? "" : `, ${count}`}${fresh ? `, ${fresh} new` : ""}`;

/** The lists one has pinned, in the bar on top: how many new leads they have, and each by a press. */
export function PinnedLists() {
  const { data } = usePinned();
  const lists = data?.items ?? [];
  if (lists.length === 0) return null;
  const fresh = lists.reduce((n, list) => n + (list.seenAt ? (list.fresh ?? 0) : 0), 0);
  return (
    <Menu
      label={fresh > 0 ? `Lists, ${fresh} new` : "Lists"}
      items={lists.map((list) => ({
        label: standing({ ...list, fresh: list.seenAt ? list.fresh : null }),
        run: () => location.assign(path(list.id)),
      }))}
    />
  );
}

/** The same as links, in the menu of a phone. */
export function PinnedLinks() {
  const { data } = usePinned();
  return data?.items.map((list) => (
    <a key={list.id} href={path(list.id)}>
      {standing({ ...list, fresh: list.seenAt ? list.fresh : null })}
    </a>
  ));
}
