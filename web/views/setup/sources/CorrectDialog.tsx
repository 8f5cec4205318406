import { useState } from "react";
import { useProducts } from "../../../live/company-queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import type { Quarantined } from "../../../wire/schemas.ts";
import setup from "../Setup.module.css";
import styles from "./Quarantine.module.css";

const LINES = [
  { fact: "name", label: "Name" },
  { fact: "phone", label: "Phone" },
  { fact: "email", label: "Email" },
  { fact: "company", label: "Company" },
  { fact: "postal_code", label: "Postal code" },
] as const;

/** What came, with its parts a line each where it is JSON. */
function readable(raw: string): string {
  try {
    return JSON.stringify(JSON.parse(raw), null, 1);
  } catch {
    return raw;
  }
}

/** Correct what was read of an inquiry, beside what came, and take it in. */
export function CorrectDialog({ one, onClose }: { readonly one: Quarantined; readonly onClose: () => void }) {
  const take = useChange();
  const { data: sold } = useProducts();
  const [fields, setFields] = useState(one.seems);
  const [wrong, setWrong] = useState<string | null>(null);
  const put = (fact: keyof typeof fields, said: string) => setFields({ ...fields, [fact]: said });
  const products = sold?.products ?? [];
  const known = products.find((p) =>
    [p.key, p.name, ...p.alsoCalled].some((n) => n.toLowerCase() === fields.product?.toLowerCase()),
  );
  return (
    <Dialog title="Correct and take in" as="wide" onClose={onClose}>
      <form
        className={styles.sides}
        onSubmit={(event) => {
          event.preventDefault();
          take.mutate({
            call: "POST /quarantine/[id]/correct",
            params: { id: one.id },
            body: { fields },
            said: ({ quarantined }) => (quarantined ? "" : "It is a lead now, answered and routed."),
            after: ({ quarantined, reason }) => {
              if (quarantined) setWrong(reason);
              else onClose();
            },
          });
        }}
      >
        <div className={styles.fields}>
          {LINES.map(({ fact, label }) => (
            <Field
              key={fact}
              label={label}
              value={fields[fact] ?? ""}
              onChange={(e) => put(fact, e.target.value)}
            />
          ))}
          <Choice
            label="Product"
            value={known?.key ?? fields.product ?? ""}
            options={[
              { value: "", label: "not stated" },
              ...(fields.product && !known ? [{ value: fields.product, label: `“${fields.product}”` }] : []),
              ...products.map(({ key, name }) => ({ value: key, label: name })),
            ]}
            onChange={(product) => put("product", product)}
          />
          <Area
            label="What they wrote"
            value={fields.message ?? ""}
            onChange={(e) => put("message", e.target.value)}
          />
          {wrong && (
            <p className={setup.wrong} role="alert">
              {wrong}
            </p>
          )}
          <div>
            <Button type="submit" look="strong" disabled={take.isPending}>
              Take it in
            </Button>
          </div>
        </div>
        <div>
          <p className={styles.reason}>{one.reason}</p>
          <h3>What came</h3>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard */}
          <pre className={setup.code} tabIndex={0}>
            {readable(one.raw) || "(empty)"}
          </pre>
          <a href={`/api/v1/inquiries/${one.id}/original`}>Download the original</a>
        </div>
      </form>
    </Dialog>
  );
}
