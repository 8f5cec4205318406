import { createContext, type ReactNode, useCallback, useContext, useMemo, useRef, useState } from "react";
import { Button } from "./Button.tsx";
import styles from "./Toasts.module.css";

interface Toast {
  readonly id: number;
  readonly text: string;
  readonly tone: "done" | "wrong";
  readonly undo?: (() => void) | undefined;
}

interface Say {
  /** Something was done; with `undo` it can be taken back while the toast stands, `lasts` ms. */
  done(text: string, undo?: () => void, lasts?: number): void;
  /** Something went wrong: what happened, what was kept, what to do. */
  wrong(text: string): void;
  /** Take back the last thing that can be taken back. Returns whether there was one. */
  undoLast(): boolean;
}

const Context = createContext<Say | null>(null);
/** A toast with an undo lasts; one that only tells goes sooner. */
const LASTS = { undo: 30_000, done: 6_000, wrong: 15_000 };

/** Tell somebody that something was done or went wrong. */
export function useSay(): Say {
  const say = useContext(Context);
  if (!say) throw new Error("useSay outside of <Toasts>.");
  return say;
}

export function Toasts({ children }: { readonly children: ReactNode }) {
  const [toasts, setToasts] = useState<readonly Toast[]>([]);
  const shown = useRef(toasts);
  shown.current = toasts;
  const count = useRef(0);
  const drop = useCallback((id: number) => setToasts((all) => all.filter((t) => t.id !== id)), []);
  const add = useCallback(
    (toast: Omit<Toast, "id">, lasts = toast.undo ? LASTS.undo : LASTS[toast.tone]) => {
      const id = ++count.current;
      setToasts((all) => [...all.slice(-2), { ...toast, id }]);
      setTimeout(() => drop(id), lasts);
    },
    [drop],
  );
  const say = useMemo<Say>(
    () => ({
      done: (text, undo, lasts) => add({ text, tone: "done", undo }, lasts),
      wrong: (text) => add({ text, tone: "wrong" }),
      undoLast: () => {
        const last = shown.current.findLast((t) => t.undo);
        if (!last) return false;
        drop(last.id);
        last.undo?.();
        return true;
      },
    }),
    [add, drop],
  );
  return (
    <Context value={say}>
      {children}
      <div className={styles.toasts} role="status" aria-live="polite">
        {toasts.map((toast) => (
          <div key={toast.id} className={toast.tone === "wrong" ? styles.wrong : styles.toast}>
            <span>{toast.text}</span>
            {toast.undo && (
              <Button
                look="bare"
                shortcut="U"
                className={styles.undo ?? ""}
                onClick={() => {
                  drop(toast.id);
                  toast.undo?.();
                }}
              >
                Undo
              </Button>
            )}
            <button type="button" className={styles.away} aria-label="Dismiss" onClick={() => drop(toast.id)}>
              ×
            </button>
          </div>
        ))}
      </div>
    </Context>
  );
}
