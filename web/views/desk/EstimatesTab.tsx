import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { firstName } from "../../../core/contact/name.ts";
import { localDate, sayDay } from "../../../core/time/words.ts";
import { call } from "../../live/api.ts";
import { deskNow } from "../../live/clock.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Estimate, LeadEstimates } from "../../wire/customer-schemas.ts";
import type { Lead } from "../../wire/schemas.ts";
import styles from "./Estimates.module.css";

const useEstimates = (leadId: string) =>
  useQuery({
    queryKey: ["estimates", leadId],
    queryFn: () => call("GET /leads/[id]/estimates", { id: leadId }),
  });

/** A lead's estimates, and a worksheet to work out another. */
export function EstimatesTab({ lead, zone }: { readonly lead: Lead; readonly zone: string }) {
  const { data, error } = useEstimates(lead.id);
  const [sending, setSending] = useState<Estimate | null>(null);
  const [replaces, setReplaces] = useState<Estimate | null>(null);
  if (error && !data)
    return (
      <Empty title="The estimates can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  return (
    <div className={styles.tab}>
      {data.estimates.map((e) => (
        <One
          key={e.id}
          estimate={e}
          zone={zone}
          onSend={() => setSending(e)}
          onAgain={() => setReplaces(e)}
        />
      ))}
      {data.worksheets.length === 0 ? (
        <Empty title="No worksheet yet">
          Prices are worked out by worksheets: make one under Set-up, Worksheets.
        </Empty>
      ) : (
        (lead.closed === null || lead.handedOver !== null) && (
          <Worksheet
            key={replaces?.id ?? "new"}
            lead={lead}
            data={data}
            replaces={replaces}
            onMade={(made) => {
              setReplaces(null);
              setSending(made);
            }}
            onLeave={() => setReplaces(null)}
          />
        )
      )}
      {sending && (
        <SendDialog lead={lead} estimate={sending} mail={data.mail} onClose={() => setSending(null)} />
      )}
    </div>
  );
}

const STATES = {
  draft: "not sent yet",
  sent: "sent",
  accepted: "accepted",
  declined: "declined",
  replaced: "replaced by a newer version",
} as const;

function One({
  estimate,
  zone,
  onSend,
  onAgain,
}: {
  readonly estimate: Estimate;
  readonly zone: string;
  readonly onSend: () => void;
  readonly onAgain: () => void;
}) {
  const change = useChange();
  const { id, number, version, name, totalSaid, state, answered, validUntil } = estimate;
  const holds = sayDay(localDate(Date.parse(validUntil), zone), zone, deskNow());
  const said = (answer: "accepted" | "declined") =>
    change.mutate({
      call: "POST /estimates/[id]/answer",
      params: { id },
      body: { answer, name: "Told to us" },
      said: `Written down: ${answer}.`,
    });
  return (
    <article className={styles.one} data-state={state}>
      <h3>
        {number}
        {version > 1 && `, version ${version}`}: {totalSaid}
      </h3>
      <p className={styles.sub}>
        {name} · {STATES[state]}
        {answered
          ? ` by ${answered.name}`
          : state === "sent" || state === "draft"
            ? `, holds until ${holds}`
            : ""}
      </p>
      <p className={styles.acts}>
        <a href={`/api/v1/estimates/${id}/pdf`} target="_blank" rel="noreferrer">
          PDF
        </a>
        {(state === "draft" || state === "sent") && (
          <>
            <Button look={state === "draft" ? "strong" : "plain"} onClick={onSend}>
              {state === "sent" ? "Send again" : "Send"}
            </Button>
            <Button look="bare" onClick={() => said("accepted")}>
              They accepted
            </Button>
            <Button look="bare" onClick={() => said("declined")}>
              They declined
            </Button>
          </>
        )}
        {state !== "replaced" && (
          <Button look="bare" onClick={onAgain}>
            New version
          </Button>
        )}
      </p>
    </article>
  );
}

function Worksheet({
  lead,
  data,
  replaces,
  onMade,
  onLeave,
}: {
  readonly lead: Lead;
  readonly data: LeadEstimates;
  readonly replaces: Estimate | null;
  readonly onMade: (estimate: Estimate) => void;
  readonly onLeave: () => void;
}) {
  const client = useQueryClient();
  const say = useSay();
  const first = data.worksheets.find((w) => w.id === replaces?.worksheetId) ?? data.worksheets[0];
  const [sheetId, setSheetId] = useState(first?.id ?? "");
  const sheet = data.worksheets.find((w) => w.id === sheetId) ?? first;
  const [typed, setTyped] = useState<Record<string, string>>(() =>
    Object.fromEntries(replaces?.inputs.map((i) => [i.key, i.value]) ?? []),
  );
  const [busy, setBusy] = useState(false);
  const { data: setup } = useQuery({
    queryKey: ["worksheets-of", lead.id, sheetId, typed],
    queryFn: () =>
      call("POST /leads/[id]/estimates/try", { id: lead.id, body: { worksheet: sheetId, inputs: inputs() } }),
    placeholderData: (before) => before,
    enabled: sheetId !== "",
  });
  if (!sheet) return null;
  function inputs(): Record<string, string> {
    return Object.fromEntries((sheet?.inputs ?? []).map((i) => [i.key, typed[i.key] ?? i.value]));
  }
  const faultOf = (key: string) => setup?.faults.find((f) => f.path === `inputs.${key}`)?.message;
  const make = async () => {
    setBusy(true);
    try {
      const made = await call("POST /leads/[id]/estimates", {
        id: lead.id,
        body: { worksheet: sheet.id, inputs: inputs(), ...(replaces && { replaces: replaces.id }) },
      });
      await client.invalidateQueries({ queryKey: ["estimates", lead.id] });
      onMade(made);
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  };
  return (
    <form
      className={styles.sheet}
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <h3>{replaces ? `A new version of ${replaces.number}` : "A new estimate"}</h3>
      {data.worksheets.length > 1 && (
        <Choice
          label="Worksheet"
          value={sheet.id}
          options={data.worksheets.map((w) => ({
            value: w.id,
            label: w.fits ? w.name : `${w.name} (another product)`,
          }))}
          onChange={setSheetId}
        />
      )}
      <div className={styles.inputs}>
        {sheet.inputs.map((input) => (
          <Field
            key={input.key}
            label={input.type === "percent" ? `${input.name}, %` : input.name}
            inputMode="decimal"
            value={typed[input.key] ?? input.value}
            error={faultOf(input.key)}
            help={input.known && typed[input.key] === undefined ? "from the lead" : undefined}
            onChange={(e) => setTyped({ ...typed, [input.key]: e.target.value })}
          />
        ))}
      </div>
      {setup?.ok && (
        <table className={styles.lines}>
          <tbody>
            {setup.lines
              .filter((l) => l.shown)
              .map((l) => (
                <tr key={l.key}>
                  <th scope="row">{l.name}</th>
                  <td>{l.said}</td>
                </tr>
              ))}
            {setup.tax !== "$0" && (
              <tr>
                <th scope="row">Tax</th>
                <td>{setup.tax}</td>
              </tr>
            )}
          </tbody>
          <tfoot>
            <tr>
              <th scope="row">Total</th>
              <td>{setup.total}</td>
            </tr>
          </tfoot>
        </table>
      )}
      <p className={styles.acts}>
        <Button type="submit" look="strong" disabled={busy || !setup?.ok}>
          Make the estimate
        </Button>
        {replaces && (
          <Button look="bare" onClick={onLeave}>
            Cancel
          </Button>
        )}
      </p>
    </form>
  );
}

function SendDialog({
  lead,
  estimate,
  mail,
  onClose,
}: {
  readonly lead: Lead;
  readonly estimate: Estimate;
  readonly mail: string | null;
  readonly onClose: () => void;
}) {
  const change = useChange();
  const [body, setBody] = useState(
    `Hello ${firstName(lead.name) ?? ""},\n\nhere is our estimate ${estimate.number}. See it and answer here:\n{estimate}\n\nThe document is attached.`.replace(
      "Hello ,",
      "Hello,",
    ),
  );
  const [refused, setRefused] = useState("");
  const send = async () => {
    try {
      await change.mutateAsync({
        call: "POST /estimates/[id]/send",
        params: { id: estimate.id },
        body: { body },
        said: "It is on its way. A call about it is planned for the next open day.",
      });
      onClose();
    } catch (error) {
      setRefused(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Dialog title={`Send estimate ${estimate.number}, ${estimate.totalSaid}`} onClose={onClose} as="wide">
      <form
        className={styles.send}
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
      >
        {refused && <p role="alert">{refused}</p>}
        <p>
          {mail ? `To ${mail}, with ` : "No mail address is known. Fill one in under Facts, then send "}
          <a href={`/api/v1/estimates/${estimate.id}/pdf`} target="_blank" rel="noreferrer">
            the PDF
          </a>
          .
        </p>
        <Area
          label="The mail"
          rows={9}
          value={body}
          onChange={(e) => setBody(e.target.value)}
          help="{estimate} becomes the page on which they see it, and accept or decline."
        />
        <p className={styles.acts}>
          <Button type="submit" look="strong" disabled={!mail}>
            Send
          </Button>
          <Button look="bare" onClick={onClose}>
            Not yet
          </Button>
        </p>
      </form>
    </Dialog>
  );
}
