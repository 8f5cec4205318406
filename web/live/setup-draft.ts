import { useCallback, useEffect, useRef, useState } from "react";
import { useSay } from "../ui/Toasts.tsx";

/** Where what was typed is kept until it is in force or thrown away: for this tab, over a reload and a look elsewhere. */
const PLACE = "kb_typed:";

function keptTyping<T>(place: string): T | null {
  try {
    return JSON.parse(sessionStorage.getItem(place) ?? "null") as T | null;
  } catch {
    return null;
  }
}

function keepTyping(place: string, typed: unknown): void {
  try {
    if (typed === null) sessionStorage.removeItem(place);
    else sessionStorage.setItem(place, JSON.stringify(typed));
  } catch {
    // Storage is full or switched off: then it lasts as long as the page.
  }
}

type Next<T> = T | null | ((before: T | null) => T | null);

/**
 * What is being changed of something in force, as `useState` gives it: what was typed where anything was, else what is in
 * force (`null` while that is not known). A colleague's change that comes meanwhile overwrites nothing that was typed; a
 * reload keeps it, and so does leaving for another page. What equals what is in force is no typing; setting `null` goes
 * back to it.
 */
export function useSetupDraft<T>(name: string, inForce: T | null): [T | null, (next: Next<T>) => void] {
  const place = PLACE + name;
  const [typed, setTyped] = useState<{ place: string; value: T | null }>(() => ({
    place,
    value: keptTyping<T>(place),
  }));
  // Another thing is looked at in the same place.
  const current = typed.place === place ? typed.value : keptTyping<T>(place);
  const same = current !== null && inForce !== null && JSON.stringify(current) === JSON.stringify(inForce);
  const draft = current === null || same ? inForce : current;
  const latest = useRef({ draft, inForce });
  latest.current = { draft, inForce };
  const set = useCallback(
    (next: Next<T>) => {
      const wanted =
        typeof next === "function" ? (next as (before: T | null) => T | null)(latest.current.draft) : next;
      const { inForce: now } = latest.current;
      const value = wanted !== null && JSON.stringify(wanted) === JSON.stringify(now) ? null : wanted;
      keepTyping(place, value);
      latest.current = { ...latest.current, draft: value ?? now };
      setTyped({ place, value });
    },
    [place],
  );
  useEffect(() => {
    // It has come into force, here or by somebody else: nothing is left to keep, and what comes after it is shown.
    if (!same) return;
    keepTyping(place, null);
    setTyped({ place, value: null });
  }, [same, place]);
  return [draft, set];
}

/**
 * What is typed into a dialog, kept when it is closed without being done and over a reload; forgotten once it is done.
 * Gives what is typed, how to change it, and how to forget it.
 */
export function useKeptTyping<T extends object>(name: string, empty: T): [T, (next: T) => void, () => void] {
  const place = PLACE + name;
  const [typed, setTyped] = useState<T>(() => ({ ...empty, ...keptTyping<T>(place) }));
  const keep = useCallback(
    (next: T) => {
      keepTyping(place, next);
      setTyped(next);
    },
    [place],
  );
  const forget = useCallback(() => keepTyping(place, null), [place]);
  return [typed, keep, forget];
}

/** Leave something typed for a form that is opened next, in place of what was typed there. */
export const leaveTyped = (name: string, typed: object): void => keepTyping(PLACE + name, typed);

/** Go back to what is in force, in one step that can be taken back: what was typed is not lost by a slip. */
export function useLeaving<T>(draft: T | null, set: (next: T | null) => void): () => void {
  const say = useSay();
  return () => {
    if (draft === null) return;
    set(null);
    say.done("Changes discarded.", () => set(draft));
  };
}

export interface Editing<T> {
  readonly draft: T;
  readonly put: (next: T) => void;
  readonly changed: boolean;
  /** It is done: nothing typed is left to keep. */
  readonly done: () => void;
  /** It stays as it was; what was typed can be brought back. */
  readonly leave: () => void;
}

/** One thing that lies open to be changed: what is typed stays over closing it and a reload, until it is kept or left. */
export function useEditing<T>(name: string, given: T): Editing<T> {
  const [typed, set] = useSetupDraft<T>(name, given);
  const draft = typed ?? given;
  const changed = JSON.stringify(draft) !== JSON.stringify(given);
  const leave = useLeaving(changed ? draft : null, set);
  return { draft, put: set, changed, done: () => set(null), leave };
}
