import type { ReactNode } from "react";
import styles from "./Tabs.module.css";

interface Props<T extends string> {
  readonly label: string;
  readonly tabs: readonly { readonly key: T; readonly name: string; readonly note?: ReactNode }[];
  readonly chosen: T;
  readonly onChoose: (key: T) => void;
}

/** A few things in one place, one of them in sight. Arrow keys move between them. */
export function Tabs<T extends string>({ label, tabs, chosen, onChoose }: Props<T>) {
  const move = (event: React.KeyboardEvent, at: number) => {
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const next = tabs[(at + step + tabs.length) % tabs.length]!;
    onChoose(next.key);
    (event.currentTarget.parentElement?.children[tabs.indexOf(next)] as HTMLElement | undefined)?.focus();
  };
  return (
    <div role="tablist" aria-label={label} className={styles.tabs}>
      {tabs.map((tab, at) => (
        <button
          key={tab.key}
          type="button"
          role="tab"
          aria-selected={tab.key === chosen}
          tabIndex={tab.key === chosen ? 0 : -1}
          className={tab.key === chosen ? styles.chosen : styles.tab}
          onClick={() => onChoose(tab.key)}
          onKeyDown={(event) => move(event, at)}
        >
          {tab.name} {tab.note}
        </button>
      ))}
    </div>
  );
}
