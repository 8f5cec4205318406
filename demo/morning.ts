import { take } from "../core/desk/hand-off.ts";
import { hearFrom } from "../core/desk/hear.ts";
import { logTry } from "../core/desk/work.ts";
import type { Desk } from "../server/desk.ts";
import { recording } from "../standins/recording.ts";

interface Arrival {
  /** Seconds before the demo's now. */
  readonly ago: number;
  readonly source: string;
  readonly fields: Readonly<Record<string, string>>;
  /** How many seconds after it came whoever it is offered to takes it. */
  readonly taken?: number;
  /** What a call comes to, and how many seconds after it came. */
  readonly call?: readonly [outcome: string, after: number];
  /** Seconds of the voicemail they left. */
  readonly recording?: number;
  readonly reply?: readonly [body: string, after: number];
}

/** The last twenty minutes before the demo begins: one rung, some offered, some taken, some answered, one who wrote back. */
const ARRIVALS: readonly Arrival[] = [
  {
    ago: 1050,
    source: "plan-your-sauna",
    fields: {
      name: "Wilhelmina Oduya",
      phone: "(406) 555-0141",
      email: "w.oduya@example.com",
      product: "cabin",
      message: "Is the foundation included in the price?",
      postal_code: "59715",
      holding_back: "price",
    },
    taken: 40,
    call: ["reached", 130],
  },
  {
    ago: 900,
    source: "hello-mailbox",
    fields: {
      name: "Piotr Lachance",
      email: "piotr.lachance@example.org",
      phone: "(612) 555-0118",
      product: "wood-fired",
      message: "How long until the tub is hot in January?",
    },
    taken: 25,
    call: ["voicemail", 160],
    reply: ["Just saw your call, I'm free for the next half hour", 800],
  },
  {
    // The same person will ask again in a moment, by another number and with another spelling.
    ago: 780,
    source: "plan-your-sauna",
    fields: {
      name: "Tendai Whitcomb",
      phone: "(303) 555-0138",
      email: "t.whitcomb@example.com",
      product: "cabin",
      message: "What does a cabin for four cost, delivered?",
      postal_code: "80302",
      holding_back: "price",
    },
    taken: 30,
    call: ["voicemail", 110],
  },
  {
    ago: 560,
    source: "ad-barrel",
    fields: {
      full_name: "Deshawn Eklund",
      phone_number: "(503) 555-0187",
      email: "deshawn.eklund@example.com",
      postal_code: "97201",
      message: "Would a 6 ft barrel fit on a second-floor deck?",
    },
  },
  {
    ago: 280,
    source: "plan-your-sauna",
    fields: {
      name: "Solveig Marchetti",
      phone: "(970) 555-0126",
      email: "solveig.m@example.com",
      product: "barrel",
      message: "Can it run on a normal 120 V outlet?",
      postal_code: "80424",
      holding_back: "power",
    },
    taken: 55,
  },
  {
    ago: 195,
    source: "ad-lodge",
    fields: {
      full_name: "Anneliese Fourcade",
      property_name: "Larkmoor Lodge",
      phone_number: "(802) 555-0164",
      email: "anneliese@larkmoor.example",
      postal_code: "05751",
      message: "Six units for an inn, opening in June.",
    },
  },
  {
    ago: 150,
    source: "plan-your-sauna",
    fields: {
      name: "Baptiste Thibault",
      phone: "(418) 555-0109",
      email: "baptiste.t@example.com",
      product: "plunge",
      message: "Quel est le délai de livraison ?",
      postal_code: "G1R 2B5",
      holding_back: "just looking",
    },
    taken: 60,
  },
  {
    ago: 115,
    source: "showroom-line",
    fields: {
      name: "Halvard Osei",
      phone: "(307) 555-0133",
      call_id: "morning-call",
      kb_result: "voicemail",
      kb_seconds: "18",
    },
    recording: 18,
  },
  {
    ago: 75,
    source: "ad-plunge",
    fields: {
      full_name: "Ruth Nakagawa",
      phone_number: "(206) 555-0133",
      email: "ruth.nakagawa@example.com",
      postal_code: "98101",
      message: "For four swimmers after training, is one enough?",
    },
  },
  {
    ago: 25,
    source: "plan-your-sauna",
    fields: {
      name: "Tendai Whitcombe",
      phone: "(303) 555-0172",
      email: "tendai.w@example.org",
      product: "cabin",
      message: "Looking for a four-person cabin with a window to the lake.",
      postal_code: "80302",
      holding_back: "space",
    },
  },
];

/** Names whose leads are played by hand, so that nobody else reacts to them. */
export const MORNING: ReadonlySet<string> = new Set(
  ARRIVALS.map((a) => a.fields.name ?? a.fields.full_name ?? ""),
);

/** Where a history is told: its desk, what comes in, and an agenda. Times are epoch ms. */
export interface Stage {
  readonly desk: Desk;
  at(time: number, does: () => void | Promise<void>): void;
  submit(source: string, fields: Record<string, string>): Promise<string | null>;
}

/** Put the morning on the history's agenda. */
export function playMorning(history: Stage, now: number): void {
  ARRIVALS.forEach((arrival, i) => {
    const { ago, source, fields, taken, call, reply, recording: seconds } = arrival;
    const came = now - ago * 1000;
    history.at(came, async () => {
      const file = seconds && history.desk.files.keep(recording(seconds), "voicemail.wav", "audio/wav");
      const leadId = await history.submit(source, {
        ...fields,
        submission_id: `morning-${i}`,
        ...(file && { kb_recording: JSON.stringify(file) }),
      });
      if (!leadId) throw new Error(`The morning's inquiry ${i} was not understood.`);
      const holder = () => history.desk.look(leadId).lead?.handOff?.to[0] ?? "p_ines";
      if (taken)
        history.at(
          came + taken * 1000,
          () => void history.desk.act(leadId, (world) => take(world, holder())),
        );
      if (call) {
        const [outcome, after] = call;
        history.at(
          came + after * 1000,
          () =>
            void history.desk.act(leadId, (world) =>
              logTry(world, { personId: holder(), channel: "call", outcome }),
            ),
        );
      }
      if (reply) {
        const heard = { channel: "text", from: "+16125550118", subject: null, body: reply[0] } as const;
        history.at(
          came + reply[1] * 1000,
          () => void history.desk.act(leadId, (world) => hearFrom(world, heard)),
        );
      }
    });
  });
}
