import {
  FloatingFocusManager,
  FloatingOverlay,
  FloatingPortal,
  useDismiss,
  useFloating,
  useInteractions,
  useRole,
} from "@floating-ui/react";
import { type ReactNode, useCallback, useEffect, useId, useState } from "react";
import { Button } from "./Button.tsx";
import styles from "./Dialog.module.css";

interface Props {
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
  /** `wide` has room for two columns of fields; `drawer` comes in from the right and leaves the desk in sight. */
  readonly as?: "dialog" | "drawer" | "wide";
  readonly onKeyDown?: (event: React.KeyboardEvent) => void;
}

const FIRST =
  "input:not(:disabled), select:not(:disabled), textarea:not(:disabled), button:not(:disabled), a[href]";

/** Something that must be finished or closed before going on; keeps the focus, closes on Escape. */
export function Dialog({ title, onClose, children, as = "dialog", onKeyDown }: Props) {
  const id = useId();
  // Whatever had the focus has it again, where it is still there: whoever works by keys goes on from where they were.
  const [opener] = useState(() => document.activeElement);
  useEffect(() => {
    return () => {
      if (opener instanceof HTMLElement && opener.isConnected && document.activeElement === document.body)
        opener.focus();
    };
  }, [opener]);
  const { refs, context } = useFloating({ open: true, onOpenChange: (open) => !open && onClose() });
  const { getFloatingProps } = useInteractions([
    useDismiss(context, { outsidePressEvent: "mousedown" }),
    useRole(context, { role: "dialog" }),
  ]);
  // The first thing one can do in it has the focus; while there is none yet, the dialog itself has.
  const begin = useCallback((body: HTMLDivElement | null) => {
    if (body) (body.querySelector<HTMLElement>(FIRST) ?? body.closest<HTMLElement>("[role=dialog]"))?.focus();
  }, []);
  return (
    <FloatingPortal>
      <FloatingOverlay lockScroll className={as === "drawer" ? styles.veilDrawer : styles.veil}>
        <FloatingFocusManager context={context} initialFocus={-1} returnFocus={false}>
          <div
            ref={refs.setFloating}
            className={
              as === "drawer" ? styles.drawer : `${styles.dialog} ${as === "wide" ? styles.wide : ""}`
            }
            tabIndex={-1}
            {...getFloatingProps({ onKeyDown, "aria-labelledby": id })}
          >
            <header className={styles.head}>
              <h2 id={id}>{title}</h2>
              <Button look="bare" onClick={onClose}>
                Close
              </Button>
            </header>
            <div ref={begin}>{children}</div>
          </div>
        </FloatingFocusManager>
      </FloatingOverlay>
    </FloatingPortal>
  );
}
