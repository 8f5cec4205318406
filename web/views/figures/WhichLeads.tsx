import { Button } from "../../ui/Button.tsx";
import styles from "./Figures.module.css";

/** The leads each part of a chart counts, one press away. */
export function WhichLeads({
  parts,
}: {
  readonly parts: readonly {
    readonly key: string;
    readonly label: string;
    readonly n: number;
    readonly onOpen: () => void;
  }[];
}) {
  return (
    <details>
      <summary>Which leads</summary>
      <p className={styles.note}>
        {parts.map(({ key, label, n, onOpen }) => (
          <Button key={key} look="bare" onClick={onOpen}>
            {label}: {n}
          </Button>
        ))}
      </p>
    </details>
  );
}
