import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pino from "pino";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { LETTER_PART_KEYS, type LetterPolicy } from "../../core/policy/letter.ts";
import { changeLetter } from "../../core/setup/change-letter.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { startMailbox } from "../../standins/mailbox.ts";
import { Outside } from "../../standins/outside.ts";
import type { OutChannel, Parcel } from "../channels/channel.ts";
import { smtpChannel } from "../channels/smtp.ts";
import { MovableClock } from "../clock.ts";
import { type Desk, openDesk } from "../desk.ts";

const WEDNESDAY = Date.parse("2026-03-04T16:00:00Z");
const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;
const letter: LetterPolicy = { on: true, weekday: 1, time: "08:00", to: [], parts: LETTER_PART_KEYS };
const setup = { ...tarnholt, policies: { ...tarnholt.policies, letter } };

let folder: string;
let clock: MovableClock;
let desk: Desk;
let delivered: Parcel[];
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-letter-"));
  clock = new MovableClock(WEDNESDAY, { frozen: true });
  delivered = [];
  desk = await open();
});
afterEach(async () => {
  await desk.close();
  rmSync(folder, { recursive: true, force: true });
});

async function open(email?: OutChannel): Promise<Desk> {
  const channel: OutChannel = { deliver: async (p) => void delivered.push(p), close: async () => {} };
  const channels = { email: email ?? channel, text: channel, chat: channel };
  const log = pino({ level: "silent" });
  return openDesk({ data: folder, clock, setup, channels, url: "https://desk.example", log, durable: false });
}
const submit = (n: number) =>
  desk.intake.submit(site, {
    contentType: "application/json",
    headers: {},
    raw: Buffer.from(JSON.stringify({ name: `Sender ${n}`, phone: `303555${2000 + n}`, product: "barrel" })),
  });
const letters = () => delivered.filter((p) => p.purpose === "figures-letter");
const due = () => new Date(desk.letters.nextDue).toISOString();
/** The letter's time has come, as the desk that runs finds out. */
const falls = async () => {
  clock.hold(desk.letters.nextDue);
  await desk.letters.run();
  desk.outbox.start();
  await desk.outbox.drained();
};
const put = (part: Partial<LetterPolicy>) =>
  desk.office.change("p_greta", (now) => changeLetter(now, { ...now.policies.letter, ...part }));

describe("the weekly letter", () => {
  it("goes to every manager at its time on the desk's clock, over a change of clocks, whatever is restarted", async () => {
    await submit(1);
    // Monday 8:00 in Denver, a day after the clock went forward.
    expect(due()).toBe("2026-03-09T14:00:00.000Z");
    await falls();
    expect(letters().map((p) => [p.toAddress, p.subject])).toEqual([
      ["greta@tarnholt.example", "The lead desk, Mon 2 to Sun 8 March 2026"],
    ]);
    expect(letters()[0]!.body).toContain("1 lead came in; 0 the week before.");
    expect(due()).toBe("2026-03-16T14:00:00.000Z");
    await desk.close();
    desk = await open();
    expect(due()).toBe("2026-03-16T14:00:00.000Z");
  });

  it("is made up for once where the desk was off, and never when it is switched off", async () => {
    await desk.close();
    clock.hold(WEDNESDAY + 20 * 86_400_000);
    desk = await open();
    expect(desk.letters.nextDue).toBeLessThan(clock.now());
    await desk.letters.run();
    desk.outbox.start();
    await desk.outbox.drained();
    expect(letters()).toHaveLength(1);
    expect(due()).toBe("2026-03-30T14:00:00.000Z");
    expect(put({ on: false }).ok).toBe(true);
    expect(desk.letters.nextDue).toBe(Number.POSITIVE_INFINITY);
    expect(put({ on: true, weekday: 5, time: "17:30" }).ok).toBe(true);
    expect(due()).toBe("2026-03-27T23:30:00.000Z");
  });

  it("goes to those who were chosen as long as they may see figures, and refuses others by their field", async () => {
    const refused = (part: Partial<LetterPolicy>) => {
      const changed = put(part);
      return changed.ok ? null : changed.problem.errors?.[0];
    };
    expect(refused({ to: ["p_ines", "p_mara"] })).toEqual({
      path: "to.1",
      message: "Mara Whitehorse may not see figures. Choose somebody who may.",
    });
    expect(refused({ to: ["p_nobody"] })?.path).toBe("to.0");
    expect(refused({ parts: [] })?.path).toBe("parts");
    expect(refused({ parts: ["offers", "offers"] })?.path).toBe("parts");
    expect(refused({ to: ["p_ines", "p_oskar"], parts: ["offers"] })).toBeNull();
    // Oskar sells from now on.
    desk.office.change("p_greta", (now) => ({
      ok: true,
      setup: {
        ...now,
        people: now.people.map((p) => (p.id === "p_oskar" ? { ...p, role: "salesperson" as const } : p)),
      },
    }));
    await falls();
    expect(letters().map((p) => p.toAddress)).toEqual(["ines@tarnholt.example"]);
    expect(letters()[0]!.body).toContain("Nobody was asked to take a lead.");
    expect(letters()[0]!.files).toEqual([]);
  });

  it("arrives as a mail program reads it: words, tables and pictures that come along", async () => {
    const outside = new Outside(() => clock.now());
    const mailbox = await startMailbox(outside);
    await desk.close();
    desk = await open(smtpChannel(mailbox.url));
    for (let n = 1; n <= 12; n++) await submit(n);
    await falls();
    await desk.close();
    await mailbox.close();
    const mail = outside.list().find((m) => m.subject?.startsWith("The lead desk"))!;
    // The parser puts pictures that come along where they are shown: what it does not find stays a cid.
    expect(mail.html).not.toContain("cid:");
    const pictures = [...mail.html!.matchAll(/src="data:image\/png;base64,([^"]+)"/g)];
    expect(pictures.length).toBe(mail.files!.length);
    expect(pictures.length).toBeGreaterThanOrEqual(3);
    for (const [, base64] of pictures) {
      const png = Buffer.from(base64!, "base64");
      expect(png.toString("latin1", 1, 4)).toBe("PNG");
      // Twice the dots of its width in the mail (PNG, 11.2.2: the header's first numbers).
      expect(png.readUInt32BE(16)).toBe(1_280);
    }
    expect(mail.body).toMatch(/Website: plan your sauna {2,}12 {2,}0 {2,}0 of 12/);
    expect(mail.html).toMatch(/<td[^>]*>Website: plan your sauna<\/td>/);
    desk = await open();
  });
});
