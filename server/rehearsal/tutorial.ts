import type { EventKind } from "../../core/lead/events.ts";
import type { Role } from "../../core/policy/people.ts";
import type { Desk } from "../desk.ts";

/** One thing somebody does to learn the desk, and how it is seen that they did. */
export interface TutorialStep {
  readonly key: string;
  readonly title: string;
  /** How it is done, in a sentence or two. */
  readonly how: string;
  /** Where: a page of the desk. */
  readonly href: string;
  readonly seen: Seen;
}

/** An event of one of these kinds by them, an entry in the list of changes with this in it, a list they made, or that they came to the page. */
type Seen =
  | { readonly by: "event"; readonly kinds: readonly EventKind[] }
  /** Something that came from outside, played by anybody. */
  | { readonly by: "arrival" }
  | { readonly by: "change"; readonly about: string }
  | { readonly by: "list" }
  | { readonly by: "page" };

const event = (...kinds: EventKind[]): Seen => ({ by: "event", kinds });
const change = (about: string): Seen => ({ by: "change", about });
const PAGE: Seen = { by: "page" };

/** What each role learns, in about ten minutes, on the demo’s morning. */
export const TUTORIALS: Readonly<Record<Role, readonly TutorialStep[]>> = {
  salesperson: [
    {
      key: "take",
      title: "Take what is offered to you",
      how: "Play a lead in Rehearsal, or take one that is offered: press K, or Take. Whoever takes first has it.",
      href: "/",
      seen: event("taken"),
    },
    {
      key: "try",
      title: "Call, and say what came of it",
      how: "Press C to call, or O to log a call made elsewhere. Only a human try answers the bell.",
      href: "/",
      seen: event("tried"),
    },
    {
      key: "write",
      title: "Write to somebody",
      how: "Press W for a text or an email; a template saves typing. For ten seconds it can be called back.",
      href: "/",
      seen: event("message-out"),
    },
    {
      key: "step",
      title: "Plan what comes next",
      how: "Press D to put the next step off. An open lead without one rings sooner or later.",
      href: "/",
      seen: event("next-step"),
    },
    {
      key: "note",
      title: "Ask a colleague",
      how: "Press M for a note, and name somebody with @: they hear of it where they like to.",
      href: "/",
      seen: event("noted"),
    },
    {
      key: "rounds",
      title: "Do your rounds",
      how: "Press R: your leads one after the other, the most urgent first. Log a call or put one off, and the next is there.",
      href: "/rounds",
      seen: PAGE,
    },
    {
      key: "reach",
      title: "Say how you hear of things",
      how: "Under Account, tick by which ways you are told. It is your own choice.",
      href: "/account",
      seen: PAGE,
    },
  ],
  coordinator: [
    {
      key: "arrive",
      title: "Have somebody inquire",
      how: "In Rehearsal, send the website form. It goes the real way: reply, rules, offer, bell.",
      href: "/rehearsal",
      seen: { by: "arrival" },
    },
    {
      key: "why",
      title: "Give a lead to somebody",
      how: "Open it on the Desk and press G. Its thread says who was asked by the rules before, and why.",
      href: "/",
      seen: event("given"),
    },
    {
      key: "quarantine",
      title: "Take one in from quarantine",
      how: "Correct what could not be read beside what came, and take it in.",
      href: "/setup/quarantine",
      seen: change("from quarantine"),
    },
    {
      key: "list",
      title: "Keep a list",
      how: "Filter the leads as you like, and save them under a name.",
      href: "/leads",
      seen: { by: "list" },
    },
    {
      key: "park",
      title: "Park one that waits",
      how: "Press V on a lead that cannot decide now. A signal of theirs wakes it.",
      href: "/",
      seen: event("parked"),
    },
    {
      key: "today",
      title: "See how the day goes",
      how: "Today says what came, how fast it was answered, and what still waits.",
      href: "/today",
      seen: PAGE,
    },
  ],
  manager: [
    {
      key: "list",
      title: "See to the manager’s list",
      how: "Leads nobody could take stand there with the reason. Give one to somebody.",
      href: "/list",
      seen: event("given"),
    },
    {
      key: "routing",
      title: "Publish rules",
      how: "Change a rule as a draft, play it back over the record, and publish it with a note.",
      href: "/setup/routing",
      seen: change("rules of routing"),
    },
    {
      key: "duty",
      title: "Switch somebody off duty",
      how: "Under People. What waits on them goes on; switch them on again after that.",
      href: "/setup/people",
      seen: change("duty of"),
    },
    {
      key: "figures",
      title: "Ask how fast we are",
      how: "Figures tell it by source and person, with how sure one can be, and lead to the leads behind.",
      href: "/figures",
      seen: PAGE,
    },
    {
      key: "lab",
      title: "Try a change before it is real",
      how: "The lab runs the desk over what might be, with today’s policies and with changed ones.",
      href: "/lab",
      seen: PAGE,
    },
  ],
  administrator: [
    {
      key: "key",
      title: "Make a key for a program",
      how: "Under Access. It acts for you, and never does more than you may.",
      href: "/setup/access",
      seen: change("API key"),
    },
    {
      key: "hook",
      title: "Have another system told",
      how: "Enter the address that Rehearsal shows under Another system, and press Test.",
      href: "/setup/hooks",
      seen: change("other systems that are told"),
    },
    {
      key: "backup",
      title: "Back the desk up",
      how: "Press Back up now. It is read again and checked once it is written.",
      href: "/setup/backups",
      seen: change("backed up"),
    },
    {
      key: "person",
      title: "Have somebody erased",
      how: "On a lead, under More, What is kept. Hand it out first; until the night it can be taken back.",
      href: "/",
      seen: event("erase-asked"),
    },
    {
      key: "changes",
      title: "See who changed what",
      how: "Everything you have just done stands there.",
      href: "/setup/changes",
      seen: PAGE,
    },
  ],
};

/** From where on somebody learns: the last event, and the last change, when they began. */
interface Since {
  readonly event: number;
  readonly change: number;
  readonly at: number;
  readonly pages: Set<string>;
}

/** Who learns what just now, and how far they are. It is kept in memory: a rehearsal that begins again begins this again. */
export class Tutorials {
  readonly #desk: Desk;
  readonly #since = new Map<string, Since>();

  constructor(desk: Desk) {
    this.#desk = desk;
  }

  /** Begin, or begin again. */
  begin(personId: string): void {
    const { sql, reader, clock } = this.#desk;
    const last = sql.get(sql.q.selectFrom("audit").select((eb) => eb.fn.max("n").as("n")));
    this.#since.set(personId, {
      event: reader.lastEvent(),
      change: Number(last?.n ?? 0),
      at: clock.now(),
      pages: new Set(),
    });
  }

  end(personId: string): void {
    this.#since.delete(personId);
  }

  /** They have come to a page. */
  visited(personId: string, path: string): void {
    this.#since.get(personId)?.pages.add(path);
  }

  /** The steps of somebody's role with what they have done; null while they do not learn. */
  of(personId: string, role: Role): readonly (TutorialStep & { readonly done: boolean })[] | null {
    const since = this.#since.get(personId);
    return since
      ? TUTORIALS[role].map((step) => ({ ...step, done: this.#isSeen(personId, step, since) }))
      : null;
  }

  #isSeen(personId: string, { seen, href }: TutorialStep, since: Since): boolean {
    const { sql } = this.#desk;
    const { q } = sql;
    switch (seen.by) {
      case "page":
        return since.pages.has(href);
      case "change": {
        const own = q
          .selectFrom("audit")
          .select("n")
          .where("n", ">", since.change)
          .where("by", "=", personId);
        return sql.get(own.where("what", "like", `%${seen.about}%`).limit(1)) !== undefined;
      }
      case "list": {
        const own = q.selectFrom("lists").select("id").where("ownerId", "=", personId);
        return sql.get(own.where("at", ">=", since.at).limit(1)) !== undefined;
      }
      default: {
        const later = q.selectFrom("events").select("n").where("n", ">", since.event).limit(1);
        if (seen.by === "arrival") return sql.get(later.where("kind", "=", "inquiry")) !== undefined;
        const actor = JSON.stringify({ kind: "person", id: personId });
        return sql.get(later.where("kind", "in", seen.kinds).where("actorJson", "=", actor)) !== undefined;
      }
    }
  }
}
