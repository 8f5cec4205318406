import type { ReactNode } from "react";
import { Button } from "./Button.tsx";
import styles from "./EditTable.module.css";

export interface EditColumn<T> {
  readonly name: string;
  readonly wide?: boolean;
  readonly cell: (row: T, put: (change: Partial<T>) => void, at: number) => ReactNode;
}

interface Props<T> {
  readonly rows: readonly T[];
  readonly columns: readonly EditColumn<T>[];
  readonly onChange: (rows: T[]) => void;
  /** What the button below says, and what one more row begins as. */
  readonly add: string;
  readonly fresh: () => T;
  /** Which rows stand here; all where nothing is said. */
  readonly shows?: (row: T) => boolean;
}

/** A list that is edited where it stands: a row each, with its way out, and one more below. */
export function EditTable<T>({ rows, columns, onChange, add, fresh, shows = () => true }: Props<T>) {
  return (
    <>
      <table className={styles.table}>
        <thead>
          <tr>
            {columns.map(({ name, wide }) => (
              <th key={name} scope="col" data-wide={wide}>
                {name}
              </th>
            ))}
            <th scope="col">
              <span className={styles.hidden}>Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) =>
            shows(row) ? (
              // biome-ignore lint/suspicious/noArrayIndexKey: what would name a row is being typed
              <tr key={at}>
                {columns.map(({ name, cell }) => (
                  <td key={name}>
                    {cell(
                      row,
                      (change) => onChange(rows.map((r, i) => (i === at ? { ...r, ...change } : r))),
                      at,
                    )}
                  </td>
                ))}
                <td>
                  <Button look="bare" onClick={() => onChange(rows.filter((_, i) => i !== at))}>
                    Remove
                  </Button>
                </td>
              </tr>
            ) : null,
          )}
        </tbody>
      </table>
      <Button onClick={() => onChange([...rows, fresh()])}>{add}</Button>
    </>
  );
}
