import { NOTHING_WAITS, stillTest } from "../changes.ts";
import { event } from "../event.ts";
import type { Lead, MaybeSame, Related } from "../lead.ts";
import type { Known, Restorable, Standing } from "../standing.ts";
import { together, union } from "../together.ts";

/** Who they are: the same person, another one, somebody they belong with. */
export const PEOPLE = {
  "maybe-same": event<{ readonly of: readonly MaybeSame[] }>({
    fold: (lead, { of }) => ({
      maybe: [...lead.maybe.filter((m) => !of.some((o) => o.leadId === m.leadId)), ...of],
    }),
    said: ({ of }) =>
      of.length === 1 ? "May be somebody known already" : `May be one of ${of.length} people known already`,
  }),

  "not-same": event<{ readonly leadId: string; readonly name: string | null }>({
    fold: (lead, { leadId }) => ({
      maybe: lead.maybe.filter((m) => m.leadId !== leadId),
      notSame: union(lead.notSame, [leadId]),
    }),
    said: ({ name }) => `Not the same person as ${name ?? "the other lead"}`,
  }),

  /** Another lead was joined to this one. */
  joined: event<{
    readonly leadId: string;
    readonly name: string | null;
    readonly lead: Lead;
    /** Its messages that wait come along too; joins of before it was so left them behind. */
    readonly messages?: true;
  }>({
    fold: (lead, { leadId, lead: other, messages }) => ({
      ...together(lead, other),
      ...(messages && { scheduled: [...lead.scheduled, ...other.scheduled] }),
      ...stillTest(lead, other.test, other.tester),
      maybe: lead.maybe.filter((m) => m.leadId !== leadId),
    }),
    said: ({ name }) => `${name ?? "Another lead"} joined to this lead`,
  }),

  /** This lead was joined to another one. */
  "joined-to": event<{ readonly leadId: string; readonly name: string | null }>({
    fold: (_lead, { leadId }, { at }) => ({
      joinedTo: leadId,
      turn: null,
      coversFor: null,
      ...NOTHING_WAITS,
      closed: { reason: "Joined to another lead", at },
      handOff: null,
      ownerId: null,
      bell: null,
      booked: null,
      maybe: [],
    }),
    said: ({ name }) => `Joined to ${name ?? "another lead"}`,
  }),

  /** What was joined is taken apart again; `known` is what this lead knows without the other. */
  parted: event<{
    readonly leadId: string;
    readonly name: string | null;
    readonly known: Known;
    /** How this lead stands without the other: its own tries, owner, steps and messages. */
    readonly own?: Standing;
    /** What could not be given back to whom it belonged, in words. */
    readonly lost?: readonly string[];
  }>({
    fold: (lead, { leadId, known, own }) => ({
      ...known,
      ...own,
      notSame: union(lead.notSame, [leadId]),
    }),
    said: ({ name, lost = [] }) => [`Taken apart again from ${name ?? "another lead"}`, ...lost].join(". "),
  }),

  "parted-from": event<{
    readonly leadId: string;
    readonly name: string | null;
    readonly restore: Restorable & Partial<Standing>;
  }>({
    fold: (lead, { leadId, restore }) => ({
      ...restore,
      joinedTo: null,
      notSame: union(lead.notSame, [leadId]),
    }),
    said: ({ name }) => `Taken apart again from ${name ?? "another lead"}`,
  }),

  shared: event<{ readonly value: string; readonly shared: boolean }>({
    fold: (lead, { value, shared }) => ({
      shared: shared ? union(lead.shared, [value]) : lead.shared.filter((v) => v !== value),
    }),
    said: ({ value, shared }) =>
      shared ? `${value} is shared by several people` : `${value} is theirs alone`,
  }),

  related: event<{ readonly related: readonly Related[] }>({
    fold: (_lead, { related }) => ({ related }),
    said: ({ related }) =>
      related.length
        ? `Belongs together with ${related.map((r) => r.name).join(", ")}`
        : "Nobody belongs to them",
  }),
};
