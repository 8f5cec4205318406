import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { useInAddress } from "../../live/address.ts";
import { useOpenCall, usePlaceCall } from "../../live/call.ts";
import { useKeys } from "../../live/keys.ts";
import { useAct, useMe, useSheet } from "../../live/queries.ts";
import type { OpenDialog } from "./asked.ts";
import { ExcuseDialog, ParkDialog, PromiseDialog } from "./bell-dialogs.tsx";
import { CadenceDialog } from "./CadenceLine.tsx";
import { CloseDialog, DeferDialog, GiveDialog, NoteDialog, PassDialog, ReopenDialog } from "./dialogs.tsx";
import { FactsDialog } from "./Facts.tsx";
import { HandOverDialog } from "./HandOverDialog.tsx";
import { OutcomeDialog } from "./OutcomeDialog.tsx";
import { PersonDialog } from "./PersonData.tsx";
import { Sheet } from "./Sheet.tsx";

const LEAD_DIALOGS = {
  outcome: OutcomeDialog,
  give: GiveDialog,
  pass: PassDialog,
  defer: DeferDialog,
  note: NoteDialog,
  close: CloseDialog,
  park: ParkDialog,
  excuse: ExcuseDialog,
  promise: PromiseDialog,
  cadence: CadenceDialog,
  "hand-over": HandOverDialog,
  reopen: ReopenDialog,
  person: PersonDialog,
} as const satisfies Partial<Record<OpenDialog, unknown>>;

interface Props {
  readonly leadId: string | null;
  readonly zone: string;
  readonly asked: OpenDialog | null;
  readonly onAsk: (asked: OpenDialog | null) => void;
  /** Something about it was done: where one goes from here. */
  readonly onDone: () => void;
  readonly onBack: () => void;
}

/** One lead with all that can be done about it, by key and in dialogs, wherever it is looked at. */
export function LeadPane({ leadId, zone, asked, onAsk, onDone, onBack }: Props) {
  const { data: me } = useMe();
  const { data: sheet } = useSheet(leadId);
  const [tab, setTab] = useInAddress("tab");
  /** What is being written to it, and to which lead: another one that lies open has nothing begun. */
  const [writing, setWriting] = useState<{ to: string; channel: "text" | "email" } | null>(null);
  const act = useAct();
  const placeCall = usePlaceCall();
  const { data: open } = useOpenCall();
  const lead = sheet?.lead ?? null;
  const channel = writing?.to === leadId ? writing.channel : null;
  const setChannel = (next: "text" | "email" | null) =>
    setWriting(next && leadId ? { to: leadId, channel: next } : null);
  const ask = (what: OpenDialog) => () => lead && !lead.closed && onAsk(what);
  useKeys({
    c: () => lead && !lead.closed && placeCall.mutate(lead.id),
    o: ask("outcome"),
    g: ask("give"),
    p: ask("pass"),
    d: ask("defer"),
    m: ask("note"),
    v: ask("park"),
    i: () => sheet?.bells.length && me?.rights.includes("leads.move") && ask("excuse")(),
    b: ask("promise"),
    a: ask("cadence"),
    f: ask("facts"),
    x: ask("close"),
    y: ask("hand-over"),
    q: () => lead && setTab("questions", { replace: true }),
    k: () =>
      lead &&
      me &&
      act.mutate({
        leadId: lead.id,
        act: "take",
        body: { personId: me.id },
        said: `You have ${called(lead)}.`,
      }),
    t: () => lead?.phones.length && setChannel("text"),
    e: () => lead?.emails.length && setChannel("email"),
    w: () => {
      const way = sheet?.lastWay;
      if (way && (way === "text" ? lead?.phones.length : lead?.emails.length)) setChannel(way);
    },
    escape: () => (channel ? setChannel(null) : onBack()),
  });
  const LeadDialog = asked && asked in LEAD_DIALOGS ? LEAD_DIALOGS[asked as keyof typeof LEAD_DIALOGS] : null;
  return (
    <>
      <Sheet
        leadId={leadId}
        zone={zone}
        tab={tab}
        onTab={setTab}
        onAsk={onAsk}
        channel={channel}
        onChannel={setChannel}
        onBack={onBack}
      />
      {LeadDialog && lead && me && (
        <LeadDialog
          lead={lead}
          me={me}
          zone={zone}
          // A call that has ended with them is what is being logged.
          {...(open?.state === "ended" && open.leadId === lead.id && { call: open })}
          onClose={() => onAsk(null)}
          onDone={() => {
            onAsk(null);
            setWriting(null);
            onDone();
          }}
        />
      )}
      {asked === "facts" && sheet && <FactsDialog sheet={sheet} onClose={() => onAsk(null)} />}
    </>
  );
}
