import { useEffect, useRef, useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { readWhen } from "../../../core/time/read-when.ts";
import { bothTimes, duration } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useAct, useOutcomes, useSheet } from "../../live/queries.ts";
import { useKeptTyping } from "../../live/setup-draft.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import { KeyHint } from "../../ui/KeyHint.tsx";
import type { Lead, Me, Outcome, Sheet } from "../../wire/schemas.ts";
import styles from "./dialogs.module.css";
import { pickByNumber } from "./dialogs.tsx";
import { nextOf } from "./words.ts";

interface Props {
  readonly lead: { readonly id: string; readonly name: string | null };
  readonly me: Me;
  readonly zone: string;
  /** The call made from the desk that has just ended. */
  readonly call?: {
    readonly id: string;
    readonly likely: string | null;
    readonly notes: string;
    readonly result: string | null;
    readonly seconds: number;
  };
  readonly onClose: () => void;
  /** It was no try: nothing is logged of the call made from the desk. */
  readonly onAside?: () => void;
  readonly onDone: () => void;
}

const REPORTED: Readonly<Record<string, string>> = {
  talked: "You talked for",
  voicemail: "Voicemail answered.",
  "no-answer": "Nobody answered.",
  busy: "It was busy.",
  "not-picked-up": "Your own phone was not picked up.",
  lost: "The desk went down meanwhile; the line was cut.",
};

/** What a call came to: one key, and the next step is set. The likely outcome is chosen, Enter takes it. */
export function OutcomeDialog({ lead, me, zone, call, onClose, onAside, onDone }: Props) {
  const act = useAct();
  const { data: outcomes = [] } = useOutcomes(lead.id);
  const { data: sheet } = useSheet(lead.id);
  const [{ note, words }, keep, forget] = useKeptTyping(`outcome:${lead.id}`, { note: "", words: "" });
  const setNote = (next: string) => keep({ note: next, words });
  const setWords = (next: string) => keep({ note, words: next });
  const [templateId, setTemplate] = useState("");
  // How many tries there were as this was opened: another one since is somebody else's.
  const [knows, setKnows] = useState<number | null>(null);
  const tries = sheet?.lead.tries ?? null;
  useEffect(() => {
    if (tries !== null) setKnows((before) => before ?? tries);
  }, [tries]);
  const first = tries !== null && knows !== null && tries > knows ? triedLast(sheet) : null;
  // What was typed while talking stands in the note, unless a note was begun already.
  const said = useRef(call?.notes ?? "");
  useEffect(() => {
    if (said.current && !note) keep({ note: said.current, words });
    said.current = "";
  }, [note, words, keep]);
  const likely = useRef<HTMLButtonElement>(null);
  const top = useRef<HTMLButtonElement>(null);
  const now = deskNow();
  const theirs = sheet?.theirZone ?? zone;
  const own = words ? readWhen(words, now, theirs) : null;
  const name = sheet ? called(sheet.lead) : (lead.name ?? "them");
  const calls = outcomes.filter((o) => o.key !== "sent");
  const ready = calls.length > 0;
  useEffect(() => {
    if (ready) (likely.current ?? top.current)?.focus();
  }, [ready]);
  const log = async (i: number) => {
    const outcome = calls[i];
    if (!outcome || act.isPending || (words && own === null)) return;
    const told = (after: Lead) =>
      `${name}: ${outcome.name.toLowerCase()}.${nextOf(after, zone, theirs)}${templateId ? " The text goes in 10 seconds." : ""}`;
    const step = own && {
      kind: "call" as const,
      note: outcome.next?.note ?? "Call again",
      dueAt: new Date(own).toISOString(),
    };
    const body = {
      personId: me.id,
      channel: "call" as const,
      outcome: outcome.key,
      note,
      ...(step && { nextStep: step }),
      ...(call && { callId: call.id }),
      ...(knows !== null && !first && { knows }),
      ...(templateId && { text: { templateId, callBackSeconds: 10 } }),
    };
    try {
      const undoFor = templateId ? 9_500 : undefined;
      await act.mutateAsync({
        leadId: lead.id,
        act: "tries",
        body,
        said: told,
        ...(undoFor && { undoFor }),
      });
      forget();
      onDone();
    } catch {
      // Said already by the act itself; the dialog stays with what was typed.
    }
  };
  const texts = sheet?.templates.filter((t) => t.channel === "text") ?? [];
  return (
    <Dialog
      title={`Call with ${name}: what came of it?`}
      onClose={onClose}
      onKeyDown={pickByNumber(calls.length, (i) => void log(i))}
    >
      {first && (
        <p className={styles.warn} role="alert">
          Meanwhile: {first}. Log yours as well only if it was another try.
        </p>
      )}
      {call?.result && (
        <p className={styles.reported}>
          {REPORTED[call.result]}
          {call.result === "talked" && ` ${duration(call.seconds * 1000)}.`}
        </p>
      )}
      <ol className={styles.list}>
        {calls.map((outcome, i) => (
          <li key={outcome.key}>
            <button
              ref={outcome.key === call?.likely ? likely : i === 0 ? top : undefined}
              type="button"
              className={styles.option}
              data-likely={outcome.key === call?.likely}
              onClick={() => void log(i)}
            >
              <KeyHint keys={String(i + 1)} />
              <span>
                {outcome.name}
                {outcome.key === call?.likely && <em> likely</em>}
              </span>
              <small>{nextInWords(outcome, own, (at) => bothTimes(at, theirs, zone, now))}</small>
            </button>
          </li>
        ))}
      </ol>
      <div className={styles.form} hidden={!ready}>
        <Field
          label="A different time (their time)"
          placeholder="tomorrow 10, fri 9:30, in 3 days"
          value={words}
          error={
            words && own === null
              ? "Not understood. Write it like “tomorrow 10” or “24 mar 9:30”."
              : undefined
          }
          help={own ? `That is ${bothTimes(own, theirs, zone, now)}.` : undefined}
          onChange={(e) => setWords(e.target.value)}
        />
        <Area
          label="Note, if there is something to remember"
          rows={2}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        {texts.length > 0 && (
          <Choice
            label="And text them"
            value={templateId}
            options={[{ value: "", label: "no text" }, ...texts.map((t) => ({ value: t.id, label: t.name }))]}
            onChange={setTemplate}
          />
        )}
        {onAside && (
          <div className={styles.send}>
            <Button look="bare" onClick={onAside}>
              Not a try: put it aside
            </Button>
          </div>
        )}
      </div>
    </Dialog>
  );
}

/** The latest try of a lead, as its thread says it. */
const triedLast = (sheet: Sheet | undefined) =>
  sheet?.thread.findLast((item) => item.kind === "tried")?.summary ?? "somebody logged a try";

function nextInWords({ next, otherwise }: Outcome, own: number | null, said: (at: number) => string): string {
  if (own) return `${next?.note ?? "Call again"}, ${said(own)}`;
  if (next) return `${next.note}, ${said(Date.parse(next.dueAt))}`;
  return otherwise ?? "No next step";
}
