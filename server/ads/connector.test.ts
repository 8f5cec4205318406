import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { AdPlatform, startAdPlatform } from "../../standins/ad-platform.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { MovableClock } from "../clock.ts";
import { Sealer } from "../db/sealer.ts";
import type { Desk } from "../desk.ts";
import { AdConnector } from "./connector.ts";

/** The desk's side of an ad platform: signing in there, and fetching what was not delivered. */

const HOUR = 3_600_000;
let desk: Desk;
let clock: MovableClock;
let platform: AdPlatform;
let stop: () => Promise<void>;
let ads: AdConnector;
let sealer: Sealer;

beforeEach(async () => {
  clock = new MovableClock(NINE, { frozen: true });
  desk = await testDesk({ clock });
  sealer = new Sealer(null);
  platform = new AdPlatform(() => clock.now());
  const started = await startAdPlatform(platform);
  stop = started.close;
  ads = new AdConnector(desk, started.url, sealer);
});
afterEach(async () => {
  vi.useRealTimers();
  ads.stop();
  await stop();
  await desk.close();
});

const stateOf = (url: string) => new URL(url).searchParams.get("state")!;
async function connect(): Promise<void> {
  await ads.connect(platform.allow(), stateOf(ads.authorizeUrl("http://desk.example.com/setup/ads")));
}
const source = () => desk.setup.sources.find((s) => s.adForm?.formId === "frm_barrel_spring")!;
const health = () => desk.sources.health(source(), 0);
let n = 0;
const fill = () =>
  platform.fill(
    "frm_barrel_spring",
    {
      full_name: "Ana Ruiz",
      email: `ana${n++}@example.com`,
      phone_number: "",
      postal_code: "80202",
      when_to_build: "",
    },
    { hold: true },
  );
/** Deliver what was filled in last, as the platform would. */
async function deliverNewest(): Promise<void> {
  const newest = platform.submissions("frm_barrel_spring", 0).at(-1)!;
  const raw = Buffer.from(JSON.stringify(newest));
  await desk.intake.submit(source(), { contentType: "application/json", headers: {}, raw });
}

describe("signing in at the platform", () => {
  it("is connected by the code of a sign-in that was begun here, and lists what is there by name", async () => {
    expect(ads.connected).toBe(false);
    await connect();
    expect(ads.connected).toBe(true);
    expect((await ads.accounts()).map((a) => a.name)).toEqual(["Tarnholt Homes", "Tarnholt Trade"]);
    expect((await ads.form("frm_lodge_brochure")).questions.map((q) => q.label)).toContain("How many units?");
  });
  it("takes a sign-in once, none that was begun elsewhere, and none that took more than 15 minutes", async () => {
    await expect(ads.connect(platform.allow(), "made-up")).rejects.toThrow("was not begun here");
    const state = stateOf(ads.authorizeUrl("http://desk.example.com/setup/ads"));
    await ads.connect(platform.allow(), state);
    await expect(ads.connect(platform.allow(), state)).rejects.toThrow("was not begun here");
    vi.useFakeTimers({ toFake: ["Date"] });
    const late = stateOf(ads.authorizeUrl("http://desk.example.com/setup/ads"));
    vi.setSystemTime(Date.now() + 15 * 60_000 + 1);
    await expect(ads.connect(platform.allow(), late)).rejects.toThrow("more than 15 minutes");
  });
  it("keeps so many sign-ins under way and no more: somebody who begins them without end fills no memory", async () => {
    const first = stateOf(ads.authorizeUrl("http://desk.example.com/"));
    for (let i = 0; i < 100; i++) ads.authorizeUrl("http://desk.example.com/");
    await expect(ads.connect(platform.allow(), first)).rejects.toThrow("was not begun here");
  });
  it("is refused with a code the platform does not know, and nothing is kept", async () => {
    const state = stateOf(ads.authorizeUrl("http://desk.example.com/"));
    await expect(ads.connect("made-up", state)).rejects.toThrow("refused with 400");
    expect(ads.connected).toBe(false);
  });
  it("says which setting is missing when no platform is set up", () => {
    const none = new AdConnector(desk, null);
    expect(none.missing).toContain("KITEBELL_ADS_URL");
    expect(() => none.authorizeUrl("http://desk.example.com/")).toThrow("KITEBELL_ADS_URL");
    expect(ads.missing).toBeNull();
  });
});

describe("catching up", () => {
  it("takes in what was not delivered, and recognises what was", async () => {
    await connect();
    await fill();
    await deliverNewest();
    await fill();
    await fill();
    expect(await ads.catchUp(source())).toEqual({ fetched: 3, fresh: 2 });
    expect(await ads.catchUp(source())).toEqual({ fetched: 3, fresh: 0 });
    expect(health().total).toBe(3);
  });
  it("goes back to when it last fetched, though newer ones have been delivered since", async () => {
    await connect();
    await fill();
    expect(await ads.catchUp(source())).toMatchObject({ fresh: 1 });
    // The desk is off for half a day; when it is back, a new one is delivered before it has asked.
    clock.hold(NINE + 2 * HOUR);
    await fill();
    clock.hold(NINE + 12 * HOUR);
    await fill();
    await deliverNewest();
    expect(await ads.catchUp(source())).toMatchObject({ fresh: 1 });
    expect(health().total).toBe(3);
  });
  it("asks again from the same moment when it was cut off", async () => {
    await connect();
    await fill();
    await ads.catchUp(source());
    clock.hold(NINE + 5 * HOUR);
    await fill();
    clock.hold(NINE + 10 * HOUR);
    const submit = vi.spyOn(desk.intake, "submit").mockRejectedValueOnce(new Error("disk full"));
    await expect(ads.catchUp(source())).rejects.toThrow("disk full");
    submit.mockRestore();
    clock.hold(NINE + 20 * HOUR);
    expect(await ads.catchUp(source())).toMatchObject({ fresh: 1 });
  });
  it("notices that somebody added a question to the form", async () => {
    await connect();
    expect(desk.sources.questions(source())).toBeNull();
    platform.addQuestion("frm_barrel_spring", { field: "budget", label: "What may it cost?" });
    await ads.catchUp(source());
    expect(desk.sources.questions(source())?.map((q) => q.field)).toContain("budget");
  });
  it("of every live source says in its health what went wrong, and forgets it when it goes well", async () => {
    await ads.catchUpAll();
    expect(health().failure).toBeNull();
    await connect();
    const lost = new AdConnector(desk, "http://127.0.0.1:9", sealer);
    await lost.catchUpAll();
    expect(health().failure).toContain("does not answer");
    await ads.catchUpAll();
    expect(health().failure).toBeNull();
  });
});

describe("a platform that answers oddly", () => {
  let odd: Server;
  let says: { status: number; body: string };
  let asking: AdConnector;
  beforeEach(async () => {
    odd = createServer((_, response) => response.writeHead(says.status).end(says.body));
    await new Promise<void>((resolve) => odd.listen(0, "127.0.0.1", resolve));
    asking = new AdConnector(desk, `http://127.0.0.1:${(odd.address() as AddressInfo).port}`, sealer);
  });
  afterEach(() => new Promise((resolve) => odd.close(resolve)));

  it.each([
    [401, "{}", "connect again"],
    [503, "down", "refused with 503"],
    [200, "<html>", "can't be read"],
    [200, '{"items":[{"id":7}]}', "can't be read"],
  ])("%i %s: said in words", async (status, body, words) => {
    says = { status, body };
    await expect(asking.accounts()).rejects.toThrow(words);
  });
});

describe("an ad platform set up in the interface", () => {
  it("is where somebody said, unless it was said when the desk was started; elsewhere means connecting again", async () => {
    const own = new AdConnector(desk, null);
    expect([own.address, own.missing]).toEqual([null, expect.stringContaining("No ad platform is set up")]);
    own.setAddress("http://127.0.0.1:9");
    expect([own.address, own.missing]).toEqual([{ url: "http://127.0.0.1:9", from: "set-up" }, null]);
    expect(ads.address?.from).toBe("environment");
    await connect();
    ads.setAddress("http://127.0.0.1:8");
    expect(ads.connected).toBe(false);
  });
  it("says who connected it and since when, keeps its token sealed, and forgets it when disconnected", async () => {
    expect(ads.since).toBeNull();
    const state = stateOf(ads.authorizeUrl("http://desk.example.com/setup/ads"));
    await ads.connect(platform.allow(), state, "p_oskar");
    expect(ads.since).toEqual({ by: "p_oskar", at: NINE });
    const kept = desk.sql.all(desk.sql.q.selectFrom("secrets").selectAll());
    expect(kept.map((k) => k.name)).toContain("ads-token-sealed");
    expect(kept.map((k) => k.name)).not.toContain("ads-token");
    ads.disconnect();
    expect([ads.connected, ads.since]).toEqual([false, null]);
    await expect(ads.accounts()).rejects.toThrow("connect again");
  });
  it("connected before tokens were sealed stays connected, and is sealed from then on", async () => {
    desk.kept.keepSecret("ads-token", "an open token");
    const after = new AdConnector(desk, "http://127.0.0.1:9", sealer);
    expect([after.connected, desk.kept.secret("ads-token")]).toEqual([true, null]);
    expect(sealer.open(desk.kept.secret("ads-token-sealed")!)).toBe("an open token");
  });
});
