import {
  type InputHTMLAttributes,
  type ReactNode,
  type Ref,
  type TextareaHTMLAttributes,
  useId,
} from "react";
import styles from "./Field.module.css";

interface Common {
  readonly label: string;
  readonly error?: string | undefined;
  readonly help?: ReactNode;
  /** Keep the label for screen readers only. */
  readonly quiet?: boolean;
}

type InputProps = Common & InputHTMLAttributes<HTMLInputElement> & { readonly ref?: Ref<HTMLInputElement> };

/** One line to fill in, with its label, help and error. */
export function Field({ label, error, help, quiet = false, ...rest }: InputProps) {
  const id = useId();
  return (
    <Frame id={id} label={label} error={error} help={help} quiet={quiet}>
      <input
        id={id}
        className={styles.input}
        aria-invalid={!!error}
        aria-describedby={error || help ? `${id}-said` : undefined}
        {...rest}
      />
    </Frame>
  );
}

type AreaProps = Common &
  TextareaHTMLAttributes<HTMLTextAreaElement> & { readonly ref?: Ref<HTMLTextAreaElement> };

/** Several lines to fill in. */
export function Area({ label, error, help, quiet = false, rows = 3, ...rest }: AreaProps) {
  const id = useId();
  return (
    <Frame id={id} label={label} error={error} help={help} quiet={quiet}>
      <textarea
        id={id}
        rows={rows}
        className={styles.input}
        aria-invalid={!!error}
        aria-describedby={error || help ? `${id}-said` : undefined}
        {...rest}
      />
    </Frame>
  );
}

function Frame({
  id,
  label,
  error,
  help,
  quiet,
  children,
}: Common & { readonly id: string; readonly children: ReactNode }) {
  return (
    <div className={styles.frame}>
      <label htmlFor={id} className={quiet ? styles.hidden : styles.label}>
        {label}
      </label>
      {children}
      {(error || help) && (
        <p id={`${id}-said`} className={error ? styles.error : styles.help}>
          {error ?? help}
        </p>
      )}
    </div>
  );
}
