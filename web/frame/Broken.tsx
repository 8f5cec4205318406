import type { ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { call } from "../live/api.ts";
import { Button } from "../ui/Button.tsx";
import styles from "./App.module.css";

/** Tell the server's log what broke in a browser. Whether that can be told is no reason to break more. */
export function tellFault(error: unknown, part: string): void {
  const said = error instanceof Error ? error : new Error(String(error));
  void call("POST /faults", {
    body: {
      part,
      message: said.message.slice(0, 500),
      stack: (said.stack ?? "").slice(0, 4_000),
      page: location.pathname,
    },
  }).catch(() => {});
}

/**
 * A part of a view that may break without the rest: it says so in its place and offers to go on, and the server's log
 * hears of it. What was typed elsewhere stays.
 */
export function MayBreak({ part, children }: { readonly part: string; readonly children: ReactNode }) {
  return (
    <ErrorBoundary
      onError={(error) => tellFault(error, part)}
      fallbackRender={(broken) => <Broken part={part} {...broken} />}
    >
      {children}
    </ErrorBoundary>
  );
}

function Broken({ part, resetErrorBoundary }: FallbackProps & { readonly part: string }) {
  return (
    <div className={styles.broken} role="alert">
      <p>
        <b>{part} can’t be shown.</b> Something in it broke; it has been written into the desk’s log. Nothing
        that was saved is lost.
      </p>
      <Button onClick={resetErrorBoundary}>Show it again</Button>
      <Button look="bare" onClick={() => location.reload()}>
        Load the page again
      </Button>
    </div>
  );
}
