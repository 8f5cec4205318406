import { useCallback, useEffect, useState } from "react";

/** In the browser's history: what was opened by this entry, so that closing it is going back. */
const OPENED = "kb_opened";

const inAddress = (name: string) => new URLSearchParams(location.search).get(name);
/** Going back is done a little later; what is opened meanwhile waits for it. */
let goingBack: Promise<void> | null = null;

export type Put = (value: string | null, how?: { readonly replace?: boolean }) => void;

/**
 * What lies open, kept in the address under a name: a reload finds it again, another can be sent the link, and Back closes
 * it. Another one in its place, or `replace`, leaves no further step to go back by.
 */
export function useInAddress(name: string): [string | null, Put] {
  const [value, setValue] = useState(() => inAddress(name));
  useEffect(() => {
    const moved = () => setValue(inAddress(name));
    addEventListener("popstate", moved);
    return () => removeEventListener("popstate", moved);
  }, [name]);
  const put = useCallback<Put>(
    (next, how = {}) => {
      setValue(next);
      const write = () => {
        const before = inAddress(name);
        if (next === before) return;
        const url = new URL(location.href);
        const state = history.state as Record<string, unknown> | null;
        if (next === null) {
          if (state?.[OPENED] === name) {
            goingBack = new Promise((done) =>
              addEventListener(
                "popstate",
                () => {
                  goingBack = null;
                  done();
                },
                { once: true },
              ),
            );
            return history.back();
          }
          url.searchParams.delete(name);
          return history.replaceState(state, "", url);
        }
        url.searchParams.set(name, next);
        if (before === null && !how.replace) history.pushState({ ...state, [OPENED]: name }, "", url);
        else history.replaceState(state, "", url);
      };
      if (goingBack)
        void goingBack.then(() => {
          write();
          setValue(next);
        });
      else write();
    },
    [name],
  );
  return [value, put];
}
