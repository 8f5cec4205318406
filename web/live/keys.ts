import { useEffect, useRef } from "react";

type Keys = Readonly<Record<string, (event: KeyboardEvent) => void>>;

/** Single keys, while no field has the focus and nothing lies over the desk. Names as in `KeyboardEvent.key`, all in lower case. */
export function useKeys(keys: Keys, active = true): void {
  const current = useRef(keys);
  current.current = keys;
  useEffect(() => {
    if (!active) return;
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      if (target.closest("input, textarea, select, [contenteditable], [role=dialog]")) return;
      const name = event.key.toLowerCase();
      // Space and Enter belong to the button that has the focus.
      if (name === "enter" && target.closest("button, a, summary")) return;
      const act = current.current[name];
      if (!act) return;
      event.preventDefault();
      act(event);
    };
    document.addEventListener("keydown", press);
    return () => document.removeEventListener("keydown", press);
  }, [active]);
}
