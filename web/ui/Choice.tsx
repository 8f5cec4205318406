import { useId } from "react";
import styles from "./Field.module.css";

export interface Option<V extends string = string> {
  readonly value: V;
  readonly label: string;
  readonly group?: string;
  readonly disabled?: boolean;
}

interface Props<V extends string> {
  readonly label: string;
  readonly value: V | "";
  readonly options: readonly Option<V>[];
  readonly onChange: (value: V) => void;
  readonly quiet?: boolean;
}

/** One of a short list, chosen by name. The platform's own list: it is right on a phone and at the keyboard. */
export function Choice<V extends string>({ label, value, options, onChange, quiet = false }: Props<V>) {
  const id = useId();
  const groups = [...new Set(options.map((o) => o.group ?? ""))];
  const draw = (o: Option<V>) => (
    <option key={o.value} value={o.value} disabled={o.disabled}>
      {o.label}
    </option>
  );
  return (
    <div className={styles.frame}>
      <label htmlFor={id} className={quiet ? styles.hidden : styles.label}>
        {label}
      </label>
      <select id={id} className={styles.input} value={value} onChange={(e) => onChange(e.target.value as V)}>
        {groups.map((group) => {
          const inside = options.filter((o) => (o.group ?? "") === group).map(draw);
          return group ? (
            <optgroup key={group} label={group}>
              {inside}
            </optgroup>
          ) : (
            inside
          );
        })}
      </select>
    </div>
  );
}
