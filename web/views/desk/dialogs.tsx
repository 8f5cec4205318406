import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { inDays } from "../../../core/time/defer.ts";
import { readWhen } from "../../../core/time/read-when.ts";
import { bothTimes, localDate, weekdayName } from "../../../core/time/words.ts";
import { openLeadsOf, useActMany } from "../../live/bells-queries.ts";
import { deskNow } from "../../live/clock.ts";
import { useAct, useGroups, usePeople, useSheet } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import { KeyHint } from "../../ui/KeyHint.tsx";
import { MentionArea } from "../../ui/MentionArea.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Me, QueueRow } from "../../wire/schemas.ts";
import styles from "./dialogs.module.css";
import { Why } from "./Why.tsx";

/** What every dialog about a lead gets. */
export interface LeadDialogProps {
  readonly lead: QueueRow;
  readonly me: Me;
  readonly zone: string;
  readonly onClose: () => void;
  /** Done: the desk goes on to the next lead. */
  readonly onDone: () => void;
}

/** Number keys choose from the list that lies open, unless something is being typed. */
export function pickByNumber(count: number, choose: (i: number) => void) {
  return (event: React.KeyboardEvent) => {
    if ((event.target as HTMLElement).closest("textarea, input, select")) return;
    const i = Number(event.key) - 1;
    if (!Number.isInteger(i) || i < 0 || i >= count) return;
    event.preventDefault();
    choose(i);
  };
}

/** Move the lead by hand to a person or a group. */
export function GiveDialog({ lead, onClose }: LeadDialogProps) {
  const act = useAct();
  const { data: people = [] } = usePeople();
  const { data: groups = [] } = useGroups();
  const [to, setTo] = useState("");
  const [reason, setReason] = useState("");
  const [stays, setStays] = useState(false);
  const [all, setAll] = useState(false);
  const actMany = useActMany();
  const say = useSay();
  const owner = people.find((p) => p.id === lead.ownerId);
  const others = people.filter((p) => p.id !== lead.ownerId);
  const giveAll = async (from: { readonly id: string; readonly name: string }) => {
    const act = { do: "give", to, reason, steps: stays ? "stay" : "move" } as const;
    try {
      await actMany({ ids: await openLeadsOf(from.id), ...act });
    } catch (error) {
      say.wrong(`Nothing was moved: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  const options = [
    { value: "", label: "Choose …", disabled: true },
    ...others
      .filter((p) => p.onDuty)
      .map((p) => ({ value: p.id, label: `${p.name}, ${p.openLeads} open`, group: "On duty" })),
    ...groups.map((g) => ({
      value: g.id,
      label: `${g.name}: ask by ${g.way.replace("-", " ")}`,
      group: "Groups",
    })),
    ...others
      .filter((p) => !p.onDuty)
      .map((p) => ({ value: p.id, label: `${p.name}, ${p.offDutyBecause}`, group: "Not on duty" })),
  ];
  const name = people.find((p) => p.id === to)?.name ?? groups.find((g) => g.id === to)?.name;
  return (
    <Dialog title={`Give ${called(lead)} to …`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (!to || !reason.trim()) return;
          if (all && owner) {
            void giveAll(owner);
            onClose();
            return;
          }
          const undoable = !groups.some((g) => g.id === to);
          act.mutate({
            leadId: lead.id,
            act: "give",
            body: { to, reason, steps: stays ? "stay" : "move" },
            said: `${called(lead)} is with ${name}. Both sides are told.`,
            undoable,
          });
          onClose();
        }}
      >
        <Choice label="Person or group" value={to} options={options} onChange={setTo} />
        <Why reason={reason} onChange={setReason} />
        {lead.nextStep && (
          <label className={styles.tick}>
            <input type="checkbox" checked={stays} onChange={(e) => setStays(e.target.checked)} />
            The next step stays with whoever it is for
          </label>
        )}
        {owner && owner.openLeads > 1 && (
          <label className={styles.tick}>
            <input type="checkbox" checked={all} onChange={(e) => setAll(e.target.checked)} />
            All {owner.openLeads} open leads of {owner.name}, not this one alone
          </label>
        )}
        <div className={styles.send}>
          <Button type="submit" look="strong" disabled={!to || !reason.trim()}>
            Give
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Pass on for the person who was asked or has the lead, with one of the company's reasons. */
export function PassDialog({ lead, me, onClose, onDone }: LeadDialogProps) {
  const act = useAct();
  const { data: people = [] } = usePeople();
  const personId = lead.ownerId ?? lead.handOff?.to[0] ?? me.id;
  const name = people.find((p) => p.id === personId)?.name ?? "them";
  const pass = (i: number) => {
    const reason = me.passReasons[i];
    if (!reason) return;
    act.mutate({
      leadId: lead.id,
      act: "pass",
      body: { personId, reason },
      said: `${called(lead)} goes to the next.`,
      undoable: false,
    });
    onDone();
  };
  return (
    <Dialog
      title={personId === me.id ? "Pass: why?" : `Pass for ${name}: why?`}
      onClose={onClose}
      onKeyDown={pickByNumber(me.passReasons.length, pass)}
    >
      <Reasons reasons={me.passReasons} onChoose={pass} />
    </Dialog>
  );
}

/** Close with one of the company's reasons. */
export function CloseDialog({ lead, me, onClose, onDone }: LeadDialogProps) {
  const act = useAct();
  const shut = (i: number) => {
    const reason = me.closeReasons[i];
    if (!reason) return;
    act.mutate({
      leadId: lead.id,
      act: "close",
      body: { reason },
      said: `${called(lead)} is closed: ${reason.toLowerCase()}.`,
    });
    onDone();
  };
  return (
    <Dialog
      title={`Close ${called(lead)}: why?`}
      onClose={onClose}
      onKeyDown={pickByNumber(me.closeReasons.length, shut)}
    >
      <Reasons reasons={me.closeReasons} onChoose={shut} />
    </Dialog>
  );
}

function Reasons({
  reasons,
  onChoose,
}: {
  readonly reasons: readonly string[];
  readonly onChoose: (i: number) => void;
}) {
  return (
    <ol className={styles.list}>
      {reasons.map((reason, i) => (
        <li key={reason}>
          <button type="button" className={styles.option} onClick={() => onChoose(i)}>
            <KeyHint keys={String(i + 1)} />
            <span>{reason}</span>
          </button>
        </li>
      ))}
    </ol>
  );
}

/** Put the next step off in one step, with a note. */
export function DeferDialog({ lead, zone, onClose, onDone }: LeadDialogProps) {
  const act = useAct();
  const [note, setNote] = useState(lead.nextStep?.note ?? "Call again");
  const [when, setWhen] = useState("");
  const [open, setOpen] = useState(false);
  const now = deskNow();
  const { data: sheet } = useSheet(lead.id);
  const since = lead.customer ? Date.parse(lead.customer.since) : null;
  const theirs = sheet?.theirZone ?? zone;
  const days = (n: number) => inDays(now, theirs, { days: n, skipWeekend: true, at: "09:00" });
  const read = when ? readWhen(when, now, theirs, since) : null;
  const at = read !== null && open ? inDays(read, theirs, { days: 0, skipWeekend: true }) : read;
  const isClosed = at !== null && ["Saturday", "Sunday"].includes(weekdayName(at, theirs));
  const next = days(1);
  const isTomorrow = localDate(next, theirs) === localDate(inDays(now, theirs, { days: 1 }), theirs);
  const choices = [
    { name: "In an hour", at: now + 3_600_000 },
    { name: isTomorrow ? "Tomorrow morning" : "Monday morning", at: next },
    { name: "In 3 days", at: days(3) },
    { name: "In a week", at: days(7) },
    { name: "In 30 days", at: days(30) },
    { name: "In 90 days", at: days(90) },
  ];
  const put = (at: number) => {
    const said = `${called(lead)}: ${note.toLowerCase()}, ${bothTimes(at, theirs, zone, now)}.`;
    act.mutate({
      leadId: lead.id,
      act: "next-step",
      body: { kind: "call", note: note || "Call again", dueAt: new Date(at).toISOString() },
      said,
    });
    onDone();
  };
  return (
    <Dialog
      title={`Next step for ${called(lead)}`}
      onClose={onClose}
      onKeyDown={pickByNumber(choices.length, (i) => put(choices[i]!.at))}
    >
      <ol className={styles.list}>
        {choices.map(({ name, at }, i) => (
          <li key={name}>
            <button type="button" className={styles.option} onClick={() => put(at)}>
              <KeyHint keys={String(i + 1)} />
              <span>{name}</span>
              <small>{bothTimes(at, theirs, zone, now)}</small>
            </button>
          </li>
        ))}
      </ol>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (at !== null) put(at);
        }}
      >
        <Field
          label="Or in words, their time"
          placeholder="3 days, next tuesday, tonight, noon, march 10"
          value={when}
          error={
            when && at === null
              ? "Not understood. Write it like “3 days”, “next tuesday” or “march 10”."
              : undefined
          }
          help={
            at === null
              ? undefined
              : `That is ${bothTimes(at, theirs, zone, now)}${isClosed ? ", a weekend" : ""}.`
          }
          onChange={(e) => setWhen(e.target.value)}
        />
        <label className={styles.check}>
          <input type="checkbox" checked={open} onChange={(e) => setOpen(e.target.checked)} />
          Off weekends: on to Monday
        </label>
        <Field label="What for" value={note} onChange={(e) => setNote(e.target.value)} />
        <div className={styles.send}>
          <Button type="submit" disabled={at === null}>
            Set it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** A note for colleagues; never sent to the lead. */
export function NoteDialog({ lead, me, onClose }: LeadDialogProps) {
  const act = useAct();
  const key = `kb_note:${lead.id}`;
  const [note, setNote] = useState(localStorage.getItem(key) ?? "");
  const [asks, setAsks] = useState(false);
  const { data: people = [] } = usePeople();
  const { data: groups = [] } = useGroups();
  const names = [...people.filter((p) => p.id !== me.id), ...groups].map((n) => n.name);
  const save = () => {
    if (!note.trim()) return;
    act.mutate(
      {
        leadId: lead.id,
        act: "notes",
        body: { text: note, asks },
        said: asks ? "Asked. It stays open until somebody answers." : "The note is in the thread.",
        undoable: false,
      },
      { onSuccess: () => localStorage.removeItem(key) },
    );
    onClose();
  };
  return (
    <Dialog title={`Note on ${called(lead)}`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
        onKeyDown={(event) => event.key === "Enter" && (event.ctrlKey || event.metaKey) && save()}
      >
        <MentionArea
          label="For colleagues, not for the lead"
          value={note}
          names={names}
          onChange={(text) => {
            setNote(text);
            localStorage.setItem(key, text);
          }}
        />
        <label className={styles.tick}>
          <input type="checkbox" checked={asks} onChange={(e) => setAsks(e.target.checked)} />
          Ask whoever is named with @; it stays open until one of them answers
        </label>
        <div className={styles.send}>
          <Button type="submit" look="strong" shortcut="Ctrl+Enter" disabled={!note.trim()}>
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Open a closed lead again, with the reason. */
export function ReopenDialog({ lead, onClose }: LeadDialogProps) {
  const act = useAct();
  const [reason, setReason] = useState("");
  return (
    <Dialog title={`Open ${called(lead)} again`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (!reason.trim()) return;
          act.mutate({
            leadId: lead.id,
            act: "reopen",
            body: { reason },
            said: `${called(lead)} is open again.`,
          });
          onClose();
        }}
      >
        <Field label="Why" value={reason} autoFocus onChange={(e) => setReason(e.target.value)} />
        <div className={styles.send}>
          <Button type="submit" look="strong" disabled={!reason.trim()}>
            Open again
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** What works in every view. */
const EVERYWHERE: readonly [string, string][] = [
  ["↑ ↓", "Move along what is listed"],
  ["Enter", "Open it"],
  ["R", "Rounds: the run through the day’s work"],
  ["N", "Write down an inquiry"],
  ["/", "Find a lead"],
  ["Esc", "Close what lies open"],
  ["?", "This list"],
];

const AT_THE_DESK: readonly [string, string][] = [
  ["↑ ↓", "Move through the queue"],
  ["L", "Only some of the queue: mine, offered, one source"],
  ["C", "Call them: your phone rings, then theirs"],
  ["O", "Log a call made elsewhere, and what came of it"],
  ["H", "Hang up"],
  ["T", "Write a text"],
  ["E", "Write an email"],
  ["W", "Answer the way they last wrote"],
  ["K", "Take the lead yourself"],
  ["P", "Pass it on to the next"],
  ["G", "Give it to a person or group"],
  ["D", "Put the next step off"],
  ["B", "A promise, or a time they asked for"],
  ["A", "Put it into a cadence"],
  ["V", "Park it: nobody's time until they do something"],
  ["I", "Silence what rings, with a reason"],
  ["M", "Write a note"],
  ["F", "Fill in or mend facts"],
  ["Q", "What is still to be asked of them"],
  ["Y", "Hand it over: company, contact and deal"],
  ["X", "Close the lead"],
  ["N", "Write down an inquiry"],
  ["/", "Find a lead"],
  ["R", "Rounds: the run through the day’s work"],
  ["Z", "Rehearsal beside the desk"],
  ["U", "Undo the last thing"],
  ["Esc", "Back to the queue"],
  ["?", "This list"],
];

const IN_ROUNDS: readonly [string, string][] = [
  ["C", "Call them: your phone rings, then theirs"],
  ["O", "What came of it"],
  ["W", "Answer the way they last wrote"],
  ["T", "Write a text"],
  ["E", "Write an email"],
  ["M", "A note"],
  ["Q", "What is still to be asked"],
  ["D", "Not today: at another time"],
  ["S", "Skip: it comes again at the end"],
  [".", "The next lead"],
  ["J", "Go to whoever steps in front"],
  ["A", "Put it into a cadence"],
  ["K", "Take the lead yourself"],
  ["U", "Undo the last thing"],
  ["Esc", "Back to the Desk"],
  ["?", "This list"],
];

const ON_THE_BOARD: readonly [string, string][] = [
  ["Y", "Only what may slip"],
  ["Space", "Pick a deal up, and put it down"],
  ["↑ ↓", "Move along the deals, or take the one picked up to the next wire"],
  ...EVERYWHERE.slice(1),
];

const AMONG_LEADS: readonly [string, string][] = [
  ["L", "The filter, in words"],
  ["↑ ↓", "Along the leads; with the sheet open it shows each"],
  ["Enter", "Open the sheet beside the table"],
  ...AT_THE_DESK.slice(2),
];

const KEYS: Readonly<Record<string, readonly [string, string][]>> = {
  Desk: AT_THE_DESK,
  Rounds: IN_ROUNDS,
  Board: ON_THE_BOARD,
  Leads: AMONG_LEADS,
};

/** All keys of a view. */
export function KeysDialog({ view, onClose }: { readonly view: string; readonly onClose: () => void }) {
  const keys = KEYS[view] ?? EVERYWHERE;
  return (
    <Dialog title="Keys" onClose={onClose}>
      <dl className={styles.keys}>
        {keys.map(([key, what]) => (
          <div key={key}>
            <dt>{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
