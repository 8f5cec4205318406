import { SEPARATOR } from "../lead/columns.ts";
import { type LeadEvent, takenBackBy } from "../lead/events.ts";
import { foldNext } from "../lead/fold.ts";
import type { Bell, Lead } from "../lead/lead.ts";
import type { Channel, TryChannel } from "../vocabulary.ts";

/**
 * What the figures are told from, of one lead: when it came, from where, who had it, and when each thing first happened to it.
 * Always what its events say ({@link accountOf}). Times are epoch ms, null where it has not happened.
 */
export interface Account {
  readonly leadId: string;
  /** The lead's last event that is told of. */
  readonly seq: number;
  readonly came: number;
  /** Where its first inquiry came from, and its latest. */
  readonly source: string;
  readonly lastSource: string;
  readonly campaign: string | null;
  readonly lastCampaign: string | null;
  readonly channel: Channel | null;
  readonly product: string | null;
  readonly zone: string | null;
  /** By which rule and to which group it was offered first. */
  readonly rule: string | null;
  readonly groupId: string | null;
  /** Who took it or was given it first; before that, who was asked first. */
  readonly person: string | null;
  /** Of a list that is only kept: nobody was asked to answer it. */
  readonly kept: 0 | 1;
  /** The first automatic answer, the first try of ours, the first contact both ways. */
  readonly repliedAt: number | null;
  readonly triedAt: number | null;
  readonly talkedAt: number | null;
  /** When it was closed or set aside without that having happened: nothing more was to be seen of it. */
  readonly unrepliedAt: number | null;
  readonly untriedAt: number | null;
  readonly untalkedAt: number | null;
  /** The response bell of its first inquiry: when it was due, when it was answered, when it was let off, when it rang. */
  readonly dueAt: number | null;
  readonly answeredAt: number | null;
  readonly letOffAt: number | null;
  readonly rangAt: number | null;
  readonly tries: number;
  /** So many tries it took until both sides talked; 0 when they got in touch themselves. */
  readonly talkedAtTry: number | null;
  /** Every stage it has entered, in order, parted by {@link SEPARATOR}. */
  readonly stages: string;
  readonly handedOverAt: number | null;
  readonly boughtAt: number | null;
  readonly closedAt: number | null;
  readonly closedAs: string | null;
  readonly inquiries: number;
}

/** A try of ours, or a call of theirs that somebody answered. */
export interface TryAccount {
  readonly leadId: string;
  /** Which of the lead's tries it was, from 1; 0 for a call of theirs. */
  readonly n: number;
  readonly at: number;
  readonly person: string | null;
  readonly channel: TryChannel;
  readonly reached: 0 | 1;
  /** How long the call took, and how long until it was written down (ms); null where no call of ours was seen. */
  readonly talked: number | null;
  readonly wrapped: number | null;
}

export const OFFER_ENDS = ["took", "passed", "lapsed", "gone"] as const;
/** How an offer ended for one of those who were asked; `gone`: somebody else had it, they were asked anew, or it needed nobody. */
export type OfferEnd = (typeof OFFER_ENDS)[number];

/** What one of ours did about being asked to take a lead. */
export interface OfferAccount {
  readonly leadId: string;
  readonly person: string;
  readonly at: number;
  readonly endedAt: number | null;
  readonly how: OfferEnd | null;
}

export interface Accounts {
  readonly lead: Account;
  readonly tries: readonly TryAccount[];
  readonly offers: readonly OfferAccount[];
}

/** A try so long after a call of ours is written down of something else (ms). */
const WRAPS = 30 * 60_000;

const CAMPAIGN = "utm_campaign";

type Open<T> = { -readonly [K in keyof T]: T[K] };

/**
 * The account of a lead, by all its events in order. Null for tests, and for leads that were joined to another one: what
 * became of them is told there. What was taken back never happened. Never throws over events that fold.
 */
export function accountOf(events: readonly LeadEvent[]): Accounts | null {
  const undone = new Set(events.flatMap(takenBackBy));
  let lead: Lead | null = null;
  let told: Told | null = null;
  for (const event of events) {
    const before: Lead | null = lead;
    lead = foldNext(before, event);
    told ??= new Told(event);
    if (!undone.has(event.actId)) told.happened(event, before, lead);
    else told.stood(lead);
  }
  return lead && told && !lead.test && !lead.joinedTo ? told.done(lead) : null;
}

class Told {
  readonly #lead: Open<Account>;
  readonly #tries: Open<TryAccount>[] = [];
  readonly #offers: Open<OfferAccount>[] = [];
  readonly #stages: string[] = [];
  #first: Bell | null = null;
  #call: { readonly at: number; readonly ms: number; readonly person: string } | null = null;
  #taken = false;

  constructor({ leadId, at }: LeadEvent) {
    this.#lead = {
      leadId,
      seq: 0,
      came: at,
      source: "",
      lastSource: "",
      campaign: null,
      lastCampaign: null,
      channel: null,
      product: null,
      zone: null,
      rule: null,
      groupId: null,
      person: null,
      kept: 0,
      repliedAt: null,
      triedAt: null,
      talkedAt: null,
      unrepliedAt: null,
      untriedAt: null,
      untalkedAt: null,
      dueAt: null,
      answeredAt: null,
      letOffAt: null,
      rangAt: null,
      tries: 0,
      talkedAtTry: null,
      stages: "",
      handedOverAt: null,
      boughtAt: null,
      closedAt: null,
      closedAs: null,
      inquiries: 0,
    };
  }

  /** Something that stands happened. */
  happened(event: LeadEvent, before: Lead | null, after: Lead): void {
    const told = this.#lead;
    const { at } = event;
    this.stood(after);
    switch (event.kind) {
      case "inquiry":
        this.#inquired(event.data);
        break;
      case "message-out":
        if (event.data.auto) told.repliedAt ??= at;
        break;
      case "called-out":
        this.#call = { at, ms: event.data.seconds * 1000, person: event.data.personId };
        break;
      case "called-in":
        if (event.data.result === "answered") this.#answered(at, event.data);
        break;
      case "tried":
        this.#tried(at, event.data);
        break;
      case "offered":
        // An offer ends the one before it, also when it is the same person's again.
        this.#endOffers(at, null, "gone");
        told.rule ??= event.data.ruleId ?? null;
        told.groupId ??= event.data.groupId ?? null;
        told.person ??= event.data.to[0] ?? null;
        for (const person of event.data.to)
          this.#offers.push({
            leadId: told.leadId,
            person,
            at: event.data.askedAt ?? at,
            endedAt: null,
            how: null,
          });
        break;
      case "taken":
        this.#endOffers(at, [event.data.personId], "took");
        break;
      case "passed":
        this.#endOffers(at, [event.data.personId], "passed");
        break;
      case "lapsed":
        if (!event.data.taken) this.#endOffers(at, event.data.to, "lapsed");
        break;
    }
    const asked = after.handOff && after.handOff.state !== "taken" ? after.handOff.to : [];
    const gone = this.#offers.flatMap((o) => (o.how || asked.includes(o.person) ? [] : [o.person]));
    this.#endOffers(at, gone, "gone");
    if (after.ownerId && !this.#taken) {
      this.#taken = true;
      told.person = after.ownerId;
    }
    if (after.reached && !before?.reached && told.talkedAt === null) {
      told.talkedAt = at;
      told.talkedAtTry = this.#tries.filter((t) => t.n > 0).length;
    }
    if (after.stage !== before?.stage) this.#stages.push(after.stage);
    if (after.handedOver && !before?.handedOver) told.handedOverAt ??= after.handedOver.at;
    if (after.customer && !before?.customer) told.boughtAt ??= at;
    if ((after.closed || after.parked) && !(before?.closed || before?.parked)) {
      if (told.repliedAt === null) told.unrepliedAt ??= at;
      if (told.triedAt === null) told.untriedAt ??= at;
      if (told.talkedAt === null) told.untalkedAt ??= at;
    }
  }

  /** How the first bell stands, also after what was taken back. */
  stood({ bell, closed, parked, lastActivityAt }: Lead): void {
    if (!bell || bell.n > 1) return;
    this.#first = bell;
    const isRunning = bell.state === "waiting" || bell.state === "rung";
    this.#lead.letOffAt =
      bell.state === "excused"
        ? (bell.excusedAt ?? this.#lead.letOffAt ?? lastActivityAt)
        : isRunning && (closed || parked)
          ? (this.#lead.letOffAt ?? lastActivityAt)
          : null;
  }

  #inquired(data: Extract<LeadEvent, { kind: "inquiry" }>["data"]): void {
    const told = this.#lead;
    const { answers } = data.facts;
    const campaign = Object.hasOwn(answers, CAMPAIGN) ? answers[CAMPAIGN] || null : null;
    if (told.inquiries === 0) {
      told.source = data.sourceId;
      told.channel = data.channel;
      told.campaign = campaign;
      told.kept = data.kept ? 1 : 0;
    }
    told.inquiries++;
    told.lastSource = data.sourceId;
    told.lastCampaign = campaign;
  }

  #answered(at: number, { personId, seconds }: Extract<LeadEvent, { kind: "called-in" }>["data"]): void {
    const told = this.#lead;
    told.triedAt ??= at;
    this.#tries.push({
      leadId: told.leadId,
      n: 0,
      at,
      person: personId,
      channel: "call",
      reached: 1,
      talked: seconds * 1000,
      wrapped: null,
    });
  }

  #tried(at: number, { personId, channel, reached }: Extract<LeadEvent, { kind: "tried" }>["data"]): void {
    const told = this.#lead;
    const call = this.#call?.person === personId && at - this.#call.at <= WRAPS ? this.#call : null;
    this.#call = null;
    told.triedAt ??= at;
    told.tries++;
    this.#tries.push({
      leadId: told.leadId,
      n: told.tries,
      at,
      person: personId,
      channel,
      reached: reached ? 1 : 0,
      talked: call ? call.ms : null,
      wrapped: call ? at - call.at : null,
    });
  }

  /** Ends what these people were asked, or everybody (null). */
  #endOffers(at: number, people: readonly string[] | null, how: OfferEnd): void {
    for (const offer of this.#offers)
      if (!offer.how && (people?.includes(offer.person) ?? true)) Object.assign(offer, { endedAt: at, how });
  }

  done(lead: Lead): Accounts {
    const first = this.#first;
    return {
      lead: {
        ...this.#lead,
        seq: lead.seq,
        came: lead.createdAt,
        product: lead.facts.product,
        zone: lead.facts.zone,
        dueAt: first?.dueAt ?? null,
        answeredAt: first?.answeredAt ?? null,
        rangAt: first?.rangAt ?? null,
        stages: this.#stages.join(SEPARATOR),
        closedAt: lead.closed?.at ?? null,
        closedAs: lead.closed?.reason ?? null,
      },
      tries: this.#tries,
      offers: this.#offers,
    };
  }
}

/** Whether a lead has ever stood in a stage. */
export const hasEntered = ({ stages }: Pick<Account, "stages">, stage: string): boolean =>
  stages.split(SEPARATOR).includes(stage);
