import { useEffect, useRef } from "react";

type Keys = Readonly<Record<string, (event: KeyboardEvent) => void>>;

/** Where letters are written, or belong to what lies over the desk. */
const TYPING = "input, textarea, select, [contenteditable], [role=dialog]";

/** Single keys, while no field has the focus and nothing lies over the desk. Names as in `KeyboardEvent.key`, all in lower case. */
export function useKeys(keys: Keys, active = true): void {
  const current = useRef(keys);
  current.current = keys;
  useEffect(() => {
    if (!active) return;
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      // An editor that keeps its parts to itself is looked into: from outside it is a plain element.
      const path = event.composedPath().filter((part) => part instanceof Element);
      if (path.some((part) => part.matches(TYPING))) return;
      const target = event.target as HTMLElement;
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
