import { useId } from "react";
import styles from "./Field.module.css";

export interface Option {
  readonly value: string;
  readonly label: string;
  readonly group?: string;
  readonly disabled?: boolean;
}

interface Props {
  readonly label: string;
  readonly value: string;
  readonly options: readonly Option[];
  readonly onChange: (value: string) => void;
  readonly quiet?: boolean;
}

/** One of a short list, chosen by name. The platform's own list: it is right on a phone and at the keyboard. */
export function Choice({ label, value, options, onChange, quiet = false }: Props) {
  const id = useId();
  const groups = [...new Set(options.map((o) => o.group ?? ""))];
  const draw = (o: Option) => (
    <option key={o.value} value={o.value} disabled={o.disabled}>
      {o.label}
    </option>
  );
  return (
    <div className={styles.frame}>
      <label htmlFor={id} className={quiet ? styles.hidden : styles.label}>
        {label}
      </label>
      <select id={id} className={styles.input} value={value} onChange={(e) => onChange(e.target.value)}>
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
