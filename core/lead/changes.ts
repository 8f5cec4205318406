import type { BellKind } from "../policy/bells.ts";
import { STAGE } from "../vocabulary.ts";
import type { Change } from "./event.ts";
import type { Bell, Lead, OtherBell } from "./lead.ts";

/** Changes that several kinds of events make. */
export const climb = (bell: Bell | null, change: Partial<Bell> = {}): Bell | null =>
  bell && { ...bell, ...change, climbed: bell.climbed + 1 };

/** What a lead that is over, here or as one of its own, waits for no more. */
export const NOTHING_WAITS = {
  engaged: null,
  parked: null,
  promise: null,
  nextStep: null,
  listed: null,
  replyWaiting: null,
  callBack: null,
  scheduled: [],
} as const satisfies Change;

/** A test is one as long as nothing real has come to it, and one person's as long as it is all theirs. */
export const stillTest = (lead: Lead, test: boolean, tester: string | null) => ({
  test: lead.test && test,
  tester: lead.test && test && lead.tester === tester ? tester : null,
});

/** Change the bell of that kind, where it runs. */
export function changeBell(
  lead: Lead,
  kind: BellKind,
  change: (bell: Bell | OtherBell) => Partial<Bell & OtherBell>,
): Change {
  if (kind === "inquiry") return { bell: lead.bell && ({ ...lead.bell, ...change(lead.bell) } as Bell) };
  return {
    others: lead.others.map((b) => (b.kind === kind ? ({ ...b, ...change(b) } as OtherBell) : b)),
  };
}

export function answer(bell: Bell | null, at: number): Bell | null {
  return bell && (bell.state === "waiting" || bell.state === "rung")
    ? { ...bell, state: "answered", answeredAt: at }
    : bell;
}

export function earlier(stage: string): boolean {
  return stage === STAGE.fresh || stage === STAGE.tried;
}
