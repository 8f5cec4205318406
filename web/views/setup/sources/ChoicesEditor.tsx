import { keyOf } from "../../../../core/policy/own-fields.ts";
import { useFieldsSetup } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { FormField } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";

type Offered = FormField["choices"][number];

interface Props {
  readonly choices: readonly Offered[];
  /** The question they answer, to be told apart by. */
  readonly question: string;
  readonly onChange: (choices: Offered[]) => void;
}

/** A choice as somebody renames it: what arrives under it stays the same once it has a name. */
function renamed(choice: Offered, label: string): Offered {
  const isFresh = choice.value === "" || choice.value === keyOf(choice.label);
  return { ...choice, label, value: isFresh ? keyOf(label) || label.trim() : choice.value };
}

function setting(choice: Offered, change: NonNullable<Offered["sets"]>): Offered {
  const { sets, ...rest } = choice;
  const next = Object.fromEntries(Object.entries({ ...sets, ...change }).filter(([, said]) => said));
  return Object.keys(next).length > 0 ? { ...rest, sets: next } : rest;
}

/** What can be chosen, and what choosing it says of the lead. */
export function ChoicesEditor({ choices, question, onChange }: Props) {
  const { data: fields } = useFieldsSetup();
  const products = fields?.products ?? [];
  const put = (at: number, next: Offered) => onChange(choices.map((c, i) => (i === at ? next : c)));
  const missing = products.filter((p) => !choices.some((c) => c.sets?.product === p.key));
  return (
    <fieldset className={styles.plain}>
      <legend className={styles.quiet}>Choices, and what each sets</legend>
      {choices.map((choice, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a new one has nothing but its place to be told by
        <div key={i} className={styles.choice}>
          <Field
            label={`Choice ${i + 1} of ${question}`}
            quiet
            placeholder="what they read"
            value={choice.label}
            onChange={(e) => put(i, renamed(choice, e.target.value))}
          />
          <Choice
            label={`Product that choice ${i + 1} sets`}
            quiet
            value={choice.sets?.product ?? ""}
            options={[
              { value: "", label: "no product" },
              ...products.map(({ key, name }) => ({ value: key, label: name })),
            ]}
            onChange={(product) => put(i, setting(choice, { product }))}
          />
          <Field
            label={`Tag that choice ${i + 1} sets`}
            quiet
            placeholder="no tag"
            value={choice.sets?.tag ?? ""}
            onChange={(e) => put(i, setting(choice, { tag: e.target.value.toLowerCase() }))}
          />
          <Button
            look="bare"
            aria-label={`Remove choice ${i + 1}: ${choice.label}`}
            onClick={() => onChange(choices.filter((_, j) => j !== i))}
          >
            Remove
          </Button>
        </div>
      ))}
      <div className={styles.row}>
        <Button onClick={() => onChange([...choices, { value: "", label: "" }])}>Add a choice</Button>
        {missing.length > 0 && (
          <Button
            look="bare"
            onClick={() =>
              onChange([
                ...choices,
                ...missing.map(({ key, name }) => ({ value: key, label: name, sets: { product: key } })),
              ])
            }
          >
            One for each product
          </Button>
        )}
      </div>
    </fieldset>
  );
}
