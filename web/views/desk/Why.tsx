import { useMe } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Field } from "../../ui/Field.tsx";
import styles from "./dialogs.module.css";

/** Why leads are given to somebody: one of the company's reasons at a press, or words of one's own. */
export function Why({
  reason,
  onChange,
}: {
  readonly reason: string;
  readonly onChange: (reason: string) => void;
}) {
  const { data: me } = useMe();
  return (
    <div>
      <Field
        label="Why: both sides read it"
        required
        value={reason}
        onChange={(e) => onChange(e.target.value)}
      />
      <p className={styles.reasons}>
        {me?.giveReasons.map((one) => (
          <Button key={one} look="bare" aria-pressed={one === reason} onClick={() => onChange(one)}>
            {one}
          </Button>
        ))}
      </p>
    </div>
  );
}
