import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { dayTime } from "../../../core/time/words.ts";
import { Refused } from "../../live/api.ts";
import { deskNow } from "../../live/clock.ts";
import { useListsOf } from "../../live/list-queries.ts";
import { useAct, useMe, usePeople } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import type { Sheet } from "../../wire/schemas.ts";
import dialogs from "./dialogs.module.css";
import styles from "./Facts.module.css";
import { KnownFields } from "./KnownFields.tsx";
import { changes, forbiddenWords, knownOf } from "./known.ts";

/** What is known about the lead, how much that is, and a way to mend it. */
export function Facts({ sheet, zone }: { readonly sheet: Sheet; readonly zone: string }) {
  const [mending, setMending] = useState(false);
  const { lead, place, completeness } = sheet;
  const { facts } = lead;
  const money =
    facts.value === null
      ? null
      : new Intl.NumberFormat("en-US", {
          style: "currency",
          currency: "USD",
          maximumFractionDigits: 0,
        }).format(facts.value);
  const kinds = Object.entries(facts.kinds).map(([phone, kind]) => `${phone} is ${kind}`);
  const rows: [string, string | null][] = [
    ["Product", lead.product],
    ["Typical value", money],
    ["Company", lead.company],
    ["Address", facts.address],
    ["Postal code", facts.postalCode],
    ["Territory", place],
    ["Language", facts.language],
    ["Phones", kinds.join(", ")],
    ["Preferred way", facts.preferred],
    ["Careful", forbiddenWords(lead)],
    ...sheet.own.map((f): [string, string | null] => [f.name, f.said]),
    [
      "Belong to them",
      lead.related.map((r) => `${r.name}${r.relation ? ` (${r.relation})` : ""}`).join(", "),
    ],
    ["Source", [lead.source, facts.detail].filter(Boolean).join(", ")],
    ["Tags", lead.tags.join(", ")],
    ["Inquiries", String(lead.inquiries)],
    ["Tries", String(lead.tries)],
    ["First came in", dayTime(Date.parse(lead.createdAt), zone, deskNow())],
  ];
  const answers = Object.entries(facts.answers);
  return (
    <div className={styles.pane}>
      <div className={styles.top}>
        <span className={styles.complete}>
          <meter min={0} max={100} value={completeness.percent} aria-label="How complete it is" />
          <b>{completeness.percent} %</b> known
        </span>
        <Button shortcut="F" hint="Fill in or mend what is known" onClick={() => setMending(true)}>
          Fill in
        </Button>
      </div>
      <dl className={styles.facts}>
        {rows
          .filter(([, value]) => value)
          .map(([name, value]) => (
            <div key={name}>
              <dt>{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        {answers.length > 0 && <h3>Answers without a field of ours</h3>}
        {answers.map(([name, value]) => (
          <div key={name}>
            <dt>{name.replace(/_/g, " ")}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <InLists leadId={sheet.lead.id} />
      <Bells sheet={sheet} zone={zone} />
      <Credit sheet={sheet} />
      {mending && <FactsDialog sheet={sheet} onClose={() => setMending(false)} />}
    </div>
  );
}

/** Every bell that runs for the lead, with its rungs: what has been climbed, and what comes when. */
function Bells({ sheet, zone }: { readonly sheet: Sheet; readonly zone: string }) {
  const now = deskNow();
  const { bells, calm } = sheet;
  if (bells.length === 0 && calm.length === 0) return null;
  return (
    <div className={styles.bells}>
      <h3>Bells</h3>
      {bells.map((bell) => (
        <details key={bell.name}>
          <summary>
            {bell.rung ? "▲ " : ""}
            {bell.name}: {bell.said}
          </summary>
          <p>
            {bell.target}
            {bell.ladder && `, by “${bell.ladder}”`}
          </p>
          <ol>
            {bell.rungs.map((rung, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rungs have no name of their own and never move
              <li key={i} data-done={rung.done}>
                {rung.done ? "✓ " : ""}
                {dayTime(Date.parse(rung.at), zone, now)} {rung.said.toLowerCase()}
              </li>
            ))}
          </ol>
        </details>
      ))}
      {calm.map(({ rule, until }) => (
        <p key={rule}>
          Calm until {dayTime(Date.parse(until), zone, now)}: “{rule}” answers no click or visit before then.
        </p>
      ))}
    </div>
  );
}

/** Who it belongs to by agreement, whoever works it; and the turn it cost, which can be given back. */
function Credit({ sheet: { lead } }: { readonly sheet: Sheet }) {
  const act = useAct();
  const { data: me } = useMe();
  const { data: people = [] } = usePeople();
  const holder = people.find((p) => p.id === lead.creditId)?.name ?? "nobody";
  if (!me?.rights.includes("leads.move")) return <p className={styles.credit}>Credit: {holder}</p>;
  return (
    <div className={styles.credit}>
      <Choice
        label="Credit, by agreement"
        value={lead.creditId ?? ""}
        options={[{ value: "", label: "nobody" }, ...people.map((p) => ({ value: p.id, label: p.name }))]}
        onChange={(id) =>
          act.mutate({
            leadId: lead.id,
            act: "credit",
            body: { to: id || null, reason: "" },
            said: "The credit is settled.",
            undoable: false,
          })
        }
      />
      {lead.turn && (
        <Button
          hint="The lead was none: whoever it cost a turn has that turn again"
          onClick={() =>
            act.mutate({
              leadId: lead.id,
              act: "credit-turn",
              body: { reason: "it was no real lead" },
              said: "The turn is given back.",
              undoable: false,
            })
          }
        >
          Give the turn back
        </Button>
      )}
    </div>
  );
}

/** Which lists it is in. */
function InLists({ leadId }: { readonly leadId: string }) {
  const { data } = useListsOf(leadId);
  if (!data?.items.length) return null;
  return (
    <p className={styles.lists}>
      In{" "}
      {data.items.map(({ id, name }, at) => (
        <span key={id}>
          {at > 0 && ", "}
          <a href={`/leads?list=${id}&lead=${leadId}`}>{name}</a>
        </span>
      ))}
    </p>
  );
}

/** Mend what is known. Only what was changed is written. */
export function FactsDialog({ sheet, onClose }: { readonly sheet: Sheet; readonly onClose: () => void }) {
  const act = useAct();
  const [before] = useState(() => knownOf(sheet));
  const [known, setKnown] = useState(before);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const save = () => {
    const body = changes(before, known);
    if (Object.keys(body).length === 0) return onClose();
    act.mutate(
      { leadId: sheet.lead.id, act: "facts", body, said: `${called(sheet.lead)}: kept.`, undoable: false },
      {
        onSuccess: onClose,
        onError: (error) =>
          setErrors(
            Object.fromEntries(
              (error instanceof Refused ? (error.problem.errors ?? []) : []).map((e) => [e.path, e.message]),
            ),
          ),
      },
    );
  };
  return (
    <Dialog title={`What is known of ${called(sheet.lead)}`} onClose={onClose} as="drawer">
      <form
        className={dialogs.form}
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <KnownFields known={known} errors={errors} onChange={setKnown} />
        <div className={dialogs.send}>
          <Button type="submit" look="strong" disabled={act.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
