import { called } from "../../../core/lead/called.ts";
import { usePlaceCall } from "../../live/call.ts";
import { useAct } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Menu, type MenuItem } from "../../ui/Menu.tsx";
import type { Me, Sheet } from "../../wire/schemas.ts";
import type { OpenDialog } from "./asked.ts";
import styles from "./Sheet.module.css";

interface Props {
  readonly sheet: Sheet;
  readonly me: Me;
  /** Somebody waits: the first act stands out. */
  readonly waits: boolean;
  readonly onAsk: (asked: OpenDialog) => void;
  readonly onChannel: (channel: "text" | "email") => void;
}

interface Act extends MenuItem {
  /** Whether it makes sense just now: then it stands in the line, as far as there is room. */
  readonly now: boolean;
  /** Whether it can be done at all. */
  readonly can: boolean;
}

/** So many stand in the line. */
const ROOM = 5;

/** What can be done with the lead: what makes sense now in one line, the rest behind *More*. */
export function Acts({ sheet, me, waits, onAsk, onChannel }: Props) {
  const act = useAct();
  const placeCall = usePlaceCall();
  const { lead, lastWay } = sheet;
  const moves = me.rights.includes("leads.move");
  const offered = !!lead.handOff && lead.handOff.state !== "taken";
  const isMine = lead.ownerId === me.id || (offered && !!lead.handOff?.to.includes(me.id));
  const writes = !!lastWay && (lastWay === "text" ? lead.phones : lead.emails).length > 0;
  const noCalls = lead.stops.some((s) => s.channel === "call") || lead.facts.forbidden.includes("call");
  const ask = (what: OpenDialog) => () => onAsk(what);
  const all: readonly Act[] = [
    {
      label: "Answer",
      shortcut: "W",
      hint: `Write by ${lastWay ?? "text"}, as they did`,
      can: writes,
      now: !!lead.replyWaiting && !lead.callBack,
      run: () => lastWay && onChannel(lastWay),
    },
    {
      label: "Call",
      shortcut: "C",
      hint: noCalls
        ? "They want no calls"
        : lead.phones.length
          ? "Your phone rings, then theirs"
          : "No phone number is known",
      can: true,
      now: true,
      disabled: lead.phones.length === 0 || noCalls,
      run: () => placeCall.mutate(lead.id),
    },
    {
      label: "Log call",
      shortcut: "O",
      hint: "A call made elsewhere, and what came of it",
      can: true,
      now: true,
      run: ask("outcome"),
    },
    {
      label: "Hand over",
      shortcut: "H",
      hint: "Make company, contact and deal of it",
      can: !lead.test,
      now: lead.stage === "Qualified",
      run: ask("hand-over"),
    },
    {
      label: "Take",
      shortcut: "K",
      hint: "Take this lead yourself",
      can: lead.ownerId === null,
      now: true,
      run: () =>
        act.mutate({
          leadId: lead.id,
          act: "take",
          body: { personId: me.id },
          said: `You have ${called(lead)}.`,
        }),
    },
    {
      label: lead.parked ? "Wake it" : "Ask the rules",
      hint: "The rules say who gets it; when all have passed, all are asked again",
      can: !offered && lead.ownerId === null && moves,
      now: true,
      run: () =>
        act.mutate({
          leadId: lead.id,
          act: "route",
          said: (after) => (after.handOff ? "It is offered again." : "Nobody can have it just now."),
          undoable: false,
        }),
    },
    {
      label: "Silence",
      shortcut: "I",
      hint: "Nothing need be done about what rings, and why",
      can: sheet.bells.some((b) => b.rung) && moves,
      now: true,
      run: ask("excuse"),
    },
    {
      label: "Pass",
      shortcut: "P",
      hint: "Pass it on to the next by the rules",
      can: offered || lead.ownerId !== null,
      now: isMine && lead.tries === 0,
      run: ask("pass"),
    },
    {
      label: "Give to…",
      shortcut: "G",
      hint: "Give it to a person or a group",
      can: moves,
      now: !isMine,
      run: ask("give"),
    },
    {
      label: "Defer",
      shortcut: "D",
      hint: "Put the next step off",
      can: true,
      now: !!lead.nextStep,
      run: ask("defer"),
    },
    {
      label: "Note",
      shortcut: "M",
      hint: "Write a note for colleagues",
      can: true,
      now: true,
      run: ask("note"),
    },
    {
      label: "Promise",
      shortcut: "B",
      hint: "A promise, or a time they asked for",
      can: true,
      now: false,
      run: ask("promise"),
    },
    {
      label: "Cadence",
      shortcut: "A",
      hint: "Put them into a plan of calls and messages",
      can: sheet.begins.length > 0,
      now: false,
      run: ask("cadence"),
    },
    {
      label: "Bought",
      hint: "A customer from now on: no open lead, with steps and cadences",
      can: !lead.customer,
      now: false,
      run: () =>
        act.mutate({
          leadId: lead.id,
          act: "bought",
          body: {},
          said: `${called(lead)} is a customer now.`,
        }),
    },
    {
      label: "Park",
      shortcut: "V",
      hint: "Set it aside until they do something, or until the next look",
      can: !lead.parked,
      now: false,
      run: ask("park"),
    },
    {
      label: "What is kept",
      hint: "Everything known of them: hand it out, or have it erased",
      can: me.rights.includes("privacy"),
      now: false,
      run: ask("person"),
    },
    {
      label: "Close",
      shortcut: "X",
      hint: "Close the lead with a reason",
      can: true,
      now: false,
      run: ask("close"),
    },
  ];
  const possible = all.filter((a) => a.can);
  const line = possible.filter((a) => a.now).slice(0, ROOM);
  const rest = possible.filter((a) => !line.includes(a));
  return (
    <div className={styles.acts}>
      {line.map(({ label, shortcut, hint, disabled, run }, at) => (
        <Button
          key={label}
          look={at === 0 && waits ? "strong" : "plain"}
          {...(shortcut && { shortcut })}
          {...(hint && { hint })}
          disabled={disabled ?? false}
          onClick={run}
        >
          {label}
        </Button>
      ))}
      <Menu label="More" items={rest} />
    </div>
  );
}
