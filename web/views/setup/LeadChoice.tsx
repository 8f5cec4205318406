import { useState } from "react";
import { readablePhone } from "../../../core/contact/readable-phone.ts";
import { called } from "../../../core/lead/called.ts";
import { useFound } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Field } from "../../ui/Field.tsx";
import type { Lead } from "../../wire/schemas.ts";
import styles from "./Setup.module.css";

interface Props {
  readonly leadId: string | null;
  readonly label?: string;
  readonly onChange: (leadId: string | null) => void;
}

/** What tells a lead from its namesakes: how they are reached, where they are. */
const tellsApart = (lead: Lead) =>
  [lead.company, lead.phones[0] && readablePhone(lead.phones[0]), lead.emails[0], lead.facts.postalCode]
    .filter(Boolean)
    .slice(0, 2)
    .join(", ");

/** For whom something is shown: somebody made up, or a lead found by any piece of its name. */
export function LeadChoice({ leadId, label = "For somebody made up, or find a lead", onChange }: Props) {
  const [q, setQ] = useState("");
  const [name, setName] = useState("");
  const { data } = useFound(leadId ? "" : q);
  const found = data?.items.map((hit) => hit.lead) ?? [];
  if (leadId)
    return (
      <p className={styles.row}>
        <span>
          For <b>{name}</b>
        </span>
        <Button
          look="bare"
          onClick={() => {
            onChange(null);
            setQ("");
          }}
        >
          Somebody else
        </Button>
      </p>
    );
  return (
    <div>
      <Field
        label={label}
        type="search"
        placeholder="A piece of a name"
        value={q}
        onChange={(e) => setQ(e.target.value)}
      />
      {q.trim().length > 1 && (
        <ul className={styles.found}>
          {found.map((lead) => (
            <li key={lead.id}>
              <button
                type="button"
                onClick={() => {
                  setName(called(lead));
                  onChange(lead.id);
                }}
              >
                {called(lead)} <small className={styles.quiet}>{tellsApart(lead)}</small>
              </button>
            </li>
          ))}
          {found.length === 0 && <li className={styles.quiet}>Nobody is found by that.</li>}
        </ul>
      )}
    </div>
  );
}
