import { beforeEach, describe, expect, it } from "vitest";
import { addNote } from "../../core/desk/notes.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { idle, testDesk } from "../../tests/support/desk.ts";
import type { OutChannel, Parcel } from "../channels/channel.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";

/** Wednesday, half past nine at night in Halifax, where Luc works from nine to eight. */
const EVENING = Date.parse("2026-03-05T01:30:00Z");
const MORNING = Date.parse("2026-03-05T13:00:00Z");

let desk: Desk;
let clock: MovableClock;
let got: Parcel[];
let fails = 0;

beforeEach(async () => {
  got = [];
  fails = 0;
  clock = new MovableClock(EVENING, { frozen: true });
  const chat: OutChannel = {
    deliver: async (parcel) => {
      if (fails-- > 0) throw new Error("The chat is down.");
      got.push(parcel);
    },
    close: async () => {},
  };
  desk = await testDesk({ clock, channels: { email: idle, text: idle, chat }, chance: () => 0.5 });
  desk.outbox.start();
});

async function mentionLuc(times: number): Promise<void> {
  for (let n = 0; n < times; n++) {
    const raw = Buffer.from(JSON.stringify({ phone: `303 555 010${n}`, name: `Lead ${n}` }));
    const source = tarnholt.sources[0]!;
    const { leadId } = await desk.intake.submit(source, {
      contentType: "application/json",
      headers: {},
      raw,
    });
    desk.act(leadId, (world) => addNote(world, "p_ines", "Look at this, @Luc"));
  }
  await desk.outbox.drained();
}
const toLuc = () => got.filter((p) => p.toAddress === "@luc" && /named|things for you/.test(p.body));
const states = () =>
  desk.sql
    .all(desk.sql.q.selectFrom("outbox").select(["state", "personId", "purpose"]))
    .filter((r) => r.personId === "p_luc" && r.purpose === "mentioned")
    .map((r) => r.state);

describe("alerts held overnight", () => {
  it("go as one in the morning when they are many, each told within", async () => {
    await mentionLuc(4);
    expect(toLuc()).toEqual([]);
    clock.hold(MORNING);
    await desk.outbox.drained();
    expect(toLuc()).toHaveLength(1);
    const [one] = toLuc();
    expect(one!.body).toMatch(/^\*4 things for you\*/);
    for (let n = 0; n < 4; n++) expect(one!.body).toContain(`You are named in a note on Lead ${n}`);
    expect(states()).toEqual(["sent", "sent", "sent", "sent"]);
  });
  it("go each on its own when they are few", async () => {
    await mentionLuc(2);
    clock.hold(MORNING);
    await desk.outbox.drained();
    expect(toLuc()).toHaveLength(2);
  });
  it("are all tried again when the one message fails, and none is lost", async () => {
    await mentionLuc(3);
    fails = 1;
    clock.hold(MORNING);
    await desk.outbox.drained();
    clock.hold(MORNING + 3_600_000);
    await desk.outbox.drained();
    expect(states()).toEqual(["sent", "sent", "sent"]);
    const said = toLuc()
      .map((p) => p.body)
      .join(" ");
    for (let n = 0; n < 3; n++) expect(said).toContain(`Lead ${n}`);
  });
});

describe("many alerts for one person within a minute", () => {
  const tell = (n: number, about: string, at = "") =>
    desk.sql.transaction(() =>
      desk.queueNotice({
        ...{ channel: "chat", to: "@greta", personId: "p_greta", subject: null },
        ...{ key: `${about}:${n}:${at}`, body: `${about} ${n}`, purpose: about },
      }),
    );
  const toGreta = () => got.filter((p) => p.toAddress === "@greta").map((p) => p.body);
  const drain = async () => {
    desk.outbox.kick();
    await desk.outbox.drained();
  };

  it("that come one after the other go by themselves at first, and then as one as the minute is over", async () => {
    for (let n = 1; n <= 49; n++) {
      clock.hold(EVENING + n * 500);
      tell(n, "ring");
      await drain();
    }
    expect(toGreta()).toEqual(["ring 1", "ring 2", "ring 3"]);
    clock.hold(EVENING + 500 + 60_000);
    await drain();
    const [, , , rest] = toGreta();
    expect(toGreta()).toHaveLength(4);
    expect(rest).toMatch(/^\*46 things for you\*\n\nring 4\n\nring 5/);
    expect(rest).toMatch(/and 38 more: \S*\/list$/);
    clock.hold(EVENING + 600_000);
    tell(50, "ring");
    await drain();
    expect(toGreta().at(-1)).toBe("ring 50");
  });
  it("that come at once, as when cover takes five leads, are one", async () => {
    for (let n = 1; n <= 5; n++) tell(n, "given");
    await drain();
    expect(toGreta()).toHaveLength(1);
    expect(toGreta()[0]).toMatch(/^\*5 things for you\*/);
  });
  it("never hold up or hide an offer: each goes at once and alone, with its own link", async () => {
    for (let n = 1; n <= 6; n++) tell(n, "ring");
    for (let n = 1; n <= 6; n++) tell(n, "hand-off");
    await drain();
    expect(toGreta().filter((body) => body.startsWith("hand-off"))).toHaveLength(6);
  });
  it("are none of somebody else’s business: another person’s go on", async () => {
    for (let n = 1; n <= 9; n++) {
      tell(n, "ring");
      await drain();
    }
    desk.sql.transaction(() =>
      desk.queueNotice({
        ...{ channel: "chat", to: "@mara", personId: "p_mara", subject: null },
        ...{ key: "one", body: "reply", purpose: "reply" },
      }),
    );
    await drain();
    expect(got.at(-1)?.toAddress).toBe("@mara");
  });
});
