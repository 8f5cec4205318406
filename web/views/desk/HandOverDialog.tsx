import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { call } from "../../live/api.ts";
import { useUndo } from "../../live/queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { HandOverChoice } from "../../wire/customer-schemas.ts";
import type { LeadDialogProps } from "./dialogs.tsx";
import styles from "./HandOver.module.css";

const NEW = "new";
const NONE = "none";

/** A qualified lead becomes company, contact and deal: each chosen from the book, made new, or left out. */
export function HandOverDialog({ lead, onClose, onDone }: LeadDialogProps) {
  const { data, error } = useQuery({
    queryKey: ["hand-over", lead.id],
    queryFn: () => call("GET /leads/[id]/hand-over", { id: lead.id }),
    staleTime: 0,
  });
  return (
    <Dialog title={`Hand over ${called(lead)}`} onClose={onClose} as="wide">
      {error && <p role="alert">{error.message}</p>}
      {!data && !error && <p>Looking through the book …</p>}
      {data && <Form lead={lead} choice={data} onDone={onDone} />}
    </Dialog>
  );
}

function Form({
  lead,
  choice,
  onDone,
}: {
  readonly lead: LeadDialogProps["lead"];
  readonly choice: HandOverChoice;
  readonly onDone: () => void;
}) {
  const change = useChange();
  const undo = useUndo();
  const say = useSay();
  const { said } = choice;
  const [company, setCompany] = useState(choice.companies[0]?.id ?? (said.company ? NEW : NONE));
  const [companyName, setCompanyName] = useState(said.company ?? "");
  const [contact, setContact] = useState(choice.contacts[0]?.id ?? NEW);
  const [contactName, setContactName] = useState(said.contact);
  const [role, setRole] = useState("");
  const [withDeal, setWithDeal] = useState(true);
  const [deal, setDeal] = useState({
    name: said.deal,
    value: String(said.value),
    expectedOn: "",
    stage: choice.stages[0]?.key ?? "",
  });
  const [cadences, setCadences] = useState<"stop" | "tasks">("stop");
  const [refused, setRefused] = useState("");
  const nobody = company === NONE && contact === NONE;
  const done = async () => {
    setRefused("");
    try {
      const made = await change.mutateAsync({
        call: "POST /leads/[id]/hand-over",
        params: { id: lead.id },
        body: {
          company:
            company === NONE
              ? null
              : company === NEW
                ? { name: companyName, domain: said.domain }
                : { id: company },
          contact: contact === NONE ? null : contact === NEW ? { name: contactName, role } : { id: contact },
          deal: withDeal
            ? {
                ...deal,
                value: deal.value.replace(/[\s,$€£]/g, "") || "0",
                expectedOn: deal.expectedOn || null,
              }
            : null,
          cadences,
        },
        said: "",
      });
      say.done(`${called(lead)} is handed over.`, () => void undo(lead.id, made.actId));
      onDone();
    } catch (error) {
      setRefused(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        void done();
      }}
    >
      {choice.missing.length > 0 && (
        <p className={styles.missing} role="alert">
          Not known yet: {choice.missing.map((m) => m.name).join(", ")}. Ask for it under Questions first.
        </p>
      )}
      {refused && (
        <p className={styles.missing} role="alert">
          {refused}
        </p>
      )}
      <Part
        legend="Company"
        name="company"
        value={company}
        onChange={setCompany}
        known={choice.companies}
        none="No company: somebody private"
        fresh="A new company"
      >
        {company === NEW && (
          <Field label="Its name" value={companyName} onChange={(e) => setCompanyName(e.target.value)} />
        )}
      </Part>
      <Part
        legend="Contact"
        name="contact"
        value={contact}
        onChange={setContact}
        known={choice.contacts}
        none="No contact"
        fresh="A new contact"
      >
        {contact === NEW && (
          <div className={styles.pair}>
            <Field label="Name" value={contactName} onChange={(e) => setContactName(e.target.value)} />
            <Field label="Role (can be left out)" value={role} onChange={(e) => setRole(e.target.value)} />
          </div>
        )}
      </Part>
      <fieldset className={styles.part}>
        <legend>Deal</legend>
        <label>
          <input type="checkbox" checked={withDeal} onChange={(e) => setWithDeal(e.target.checked)} /> Put a
          deal on the board
        </label>
        {withDeal && (
          <div className={styles.pair}>
            <Field
              label="What may be sold"
              value={deal.name}
              onChange={(e) => setDeal({ ...deal, name: e.target.value })}
            />
            <Field
              label={`Value, ${said.currency}`}
              inputMode="decimal"
              value={deal.value}
              onChange={(e) => setDeal({ ...deal, value: e.target.value })}
            />
            <Field
              label="Expected on"
              type="date"
              value={deal.expectedOn}
              onChange={(e) => setDeal({ ...deal, expectedOn: e.target.value })}
            />
            <Choice
              label="It begins in"
              value={deal.stage}
              options={choice.stages.map((s) => ({ value: s.key, label: s.name }))}
              onChange={(stage) => setDeal({ ...deal, stage })}
            />
          </div>
        )}
      </fieldset>
      <section aria-label="What goes along" className={styles.along}>
        <h3>Goes along</h3>
        <ul>
          {choice.comesAlong.map((what) => (
            <li key={what}>{what}</li>
          ))}
        </ul>
        {choice.cadences.length > 0 && (
          <Choice
            label={`It is in ${choice.cadences.map((c) => `“${c}”`).join(" and ")}`}
            value={cadences}
            options={[
              { value: "stop", label: "The cadence stops" },
              { value: "tasks", label: "It stops, and its next touch becomes a task of the deal" },
            ]}
            onChange={(value) => setCadences(value as "stop" | "tasks")}
          />
        )}
      </section>
      <div className={styles.send}>
        <Button type="submit" look="strong" disabled={nobody || change.isPending}>
          Hand over
        </Button>
        <span>The lead stays, closed as handed over. It can be undone until somebody works on the deal.</span>
      </div>
    </form>
  );
}

function Part({
  legend,
  name,
  value,
  onChange,
  known,
  fresh,
  none,
  children,
}: {
  readonly legend: string;
  readonly name: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly known: HandOverChoice["companies"];
  readonly fresh: string;
  readonly none: string;
  readonly children: ReactNode;
}) {
  const option = (key: string, said: ReactNode) => (
    <label key={key}>
      <input type="radio" name={name} value={key} checked={value === key} onChange={() => onChange(key)} />{" "}
      {said}
    </label>
  );
  return (
    <fieldset className={styles.part}>
      <legend>{legend}</legend>
      {known.map((m) =>
        option(
          m.id,
          <span>
            <b>{m.name}</b>, in the book already <small>{m.about}</small>
            <small className={styles.why}>
              {m.points} points: {m.reasons.join(", ")}
            </small>
          </span>,
        ),
      )}
      {option(NEW, fresh)}
      {option(NONE, none)}
      {children}
    </fieldset>
  );
}
