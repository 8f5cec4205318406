import type { ReactNode } from "react";
import type { Editing } from "../../live/setup-draft.ts";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import styles from "./routing/Routing.module.css";
import { KeepRow } from "./SaveBar.tsx";

interface Props<T> {
  readonly title: string;
  readonly editing: Editing<T>;
  readonly onKeep: (kept: T) => void;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

/** One named thing of a list of Set-up, edited in a dialog and kept with the rest of the page. */
export function EditorDialog<T extends { readonly name: string }>(props: Props<T>) {
  const { title, editing, onKeep, onClose, children } = props;
  const { draft, put, done } = editing;
  return (
    <Dialog title={title} as="wide" onClose={onClose}>
      <form
        className={styles.wide}
        onSubmit={(e) => {
          e.preventDefault();
          done();
          onKeep(draft);
        }}
      >
        <Field label="Name" value={draft.name} onChange={(e) => put({ ...draft, name: e.target.value })} />
        {children}
        <KeepRow />
      </form>
    </Dialog>
  );
}
