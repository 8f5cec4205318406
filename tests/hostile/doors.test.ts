import { request } from "node:http";
import { join } from "node:path";
import Database from "better-sqlite3";
import { describe, expect, it } from "vitest";
import { ADA, realDesk, type Visitor } from "../support/real.ts";

/** What comes through the doors of a real desk: bodies, headers, links, addresses, sessions. */

const desk = realDesk();
const { ada } = desk;

describe("hours that cannot be", () => {
  const hours = async (more: object) => {
    const { zone, week, exceptions, holidays } = (await ada.call("/setup/hours")).body;
    return (await ada.call("/setup/hours", { zone, week, exceptions, holidays, ...more })).status;
  };
  it.each([
    ["an unknown zone", { zone: "Mars/Olympus" }],
    ["25:00", { week: { 1: [["08:00", "25:00"]] } }],
    ["an eighth weekday", { week: { 1: [["08:00", "17:00"]], 8: [["08:00", "17:00"]] } }],
    ["a day of no calendar", { exceptions: { "9999-99-99": { name: "Never", spans: [] } } }],
  ])("are refused: %s", async (_what, more) => {
    expect(await hours(more)).toBe(422);
  });
  it("are refused for a person and in a sentence about them, too", async () => {
    const { people } = (await ada.call("/setup/people")).body;
    const wrong = { ...people[0], hours: { zone: "Mars/Olympus", week: {} } };
    expect((await ada.call("/setup/people", wrong)).status).toBe(422);
  });
  it("that were stored all the same are left for the last that can be used: the desk starts, says so and takes inquiries", async () => {
    const source = (await ada.call("/sources", { name: "Site", channel: "website" })).body;
    await ada.call(`/sources/${source.key}`, { state: "live" });
    await desk.restart(() => {
      const db = new Database(join(desk.folder(), "kite-bell.db"));
      const { setupJson } = db.prepare("select setupJson from setup order by version desc").get() as {
        setupJson: string;
      };
      const broken = JSON.parse(setupJson);
      broken.policies.desk.zone = "Mars/Olympus";
      for (const json of [JSON.stringify(broken), "{half"])
        db.prepare("insert into setup (at, by, setupJson) values (?, null, ?)").run(Date.now(), json);
      db.close();
    });
    const troubles = (await ada.call("/troubles")).body.items;
    expect(troubles.find((t: { key: string }) => t.key === "setup").said).toMatch(
      /newest set-up can’t be used: .*Mars\/Olympus.* The desk goes by the set-up of/,
    );
    const taken = await desk.visitor().call(`/intake/${source.key}`, { phone: "303 555 0120" });
    expect(taken).toMatchObject({ status: 202, body: { matched: "new" } });
    expect(await hours({})).toBe(200);
    expect((await ada.call("/troubles")).body.items.map((t: { key: string }) => t.key)).not.toContain(
      "setup",
    );
  });
});

describe("bodies", () => {
  /** Send bytes without saying how many, until the other side has answered; gives its status. */
  const pour = (path: string, type: string, most: number) =>
    new Promise<number>((resolve, reject) => {
      const sent = request(`${desk.origin()}${path}`, { method: "POST", headers: { "content-type": type } });
      let answered = false;
      sent.on("response", (answer) => {
        answered = true;
        answer.resume();
        resolve(answer.statusCode ?? 0);
      });
      sent.on("error", (error) => (answered ? undefined : reject(error)));
      const piece = Buffer.alloc(65_536, "x");
      const more = (left: number) => {
        if (answered) sent.destroy();
        else if (left <= 0) sent.end();
        else if (sent.write(piece)) setImmediate(more, left - piece.length);
        else sent.once("drain", () => more(left - piece.length));
      };
      more(most);
    });

  it.each(["/api/v1/carrier/calls", "/api/v1/site/views", "/sign-in", "/reset", "/api/auth/sign-in/email"])(
    "are cut off at one limit, before anybody has signed in: %s",
    async (path) => {
      expect(await pour(path, "application/json", 5_000_000)).toBe(413);
    },
  );
  it("that say themselves that they are too large are not read at all", async () => {
    const status = await new Promise<number>((resolve, reject) => {
      const sent = request(`${desk.origin()}/api/v1/carrier/calls`, {
        method: "POST",
        headers: { "content-length": 300_000_000 },
      });
      sent.on("response", (answer) => resolve(answer.statusCode ?? 0)).on("error", reject);
      sent.flushHeaders();
    });
    expect(status).toBe(413);
  });
  it("of another type than a page wants are a form with nothing in it, and no fault of the server", async () => {
    for (const path of ["/t/x", "/m/x", "/b/x", "/sign-in", "/reset", "/join/x", "/u/x"]) {
      const response = await fetch(desk.origin() + path, {
        method: "POST",
        redirect: "manual",
        headers: { "content-type": "image/png", "sec-fetch-site": "same-origin" },
        body: "not a form",
      });
      expect([path, response.status < 500]).toEqual([path, true]);
    }
  });
});

describe("a repeated call", () => {
  it("gets its own first answer and nobody else's, and is told when it is another one", async () => {
    const bo = await desk.hire("coordinator", "Bo Second");
    const post = (who: Visitor, body: object) =>
      who.call("/leads", { route: false, ...body }, { "idempotency-key": "same" });
    const first = await post(ada, { name: "Of Ada", phone: "303 555 0130" });
    const second = await post(bo.browser, { name: "Of Bo", phone: "303 555 0131" });
    expect(second.body.id).not.toBe(first.body.id);
    const again = await post(ada, { name: "Of Ada", phone: "303 555 0130" });
    expect(again.body.id).toBe(first.body.id);
    expect((await post(ada, { name: "Of Ada", phone: "303 555 0139" })).status).toBe(422);
  });
});

describe("other sites", () => {
  it("are nowhere one lands after signing in", async () => {
    for (const to of [
      "/%09/evil.example",
      "/%0a/evil.example",
      "//evil.example",
      "/\\evil.example",
      "/%0d%0aset-cookie:x=1",
    ]) {
      const answer = await desk.visitor().go(`/sign-in?to=${to}`, ADA);
      expect([to, answer.status]).toEqual([to, 302]);
      expect(new URL(answer.location!, desk.origin()).origin).toBe(desk.origin());
    }
  });
  it("change nothing with somebody's session, nor sign anybody in", async () => {
    const elsewhere: Record<string, string>[] = [
      { "sec-fetch-site": "cross-site" },
      { "sec-fetch-site": "same-site" },
      { origin: "https://evil.example" },
      { origin: "null" },
    ];
    for (const headers of elsewhere) {
      expect((await ada.call("/setup/restraint", {}, headers)).status).toBe(403);
      expect((await desk.visitor().go("/sign-in", ADA, { "sec-fetch-site": "", ...headers })).status).toBe(
        403,
      );
    }
  });
  it("show no page of ours in a frame, run no script in one, and learn no address", async () => {
    for (const path of ["/sign-in", "/t/none", "/b/none", "/join/none", "/", "/setup"]) {
      const { headers } = await ada.go(path);
      const policy = headers.get("content-security-policy") ?? "";
      expect([path, headers.get("x-content-type-options")]).toEqual([path, "nosniff"]);
      expect(headers.get("referrer-policy")).toBe("same-origin");
      expect(policy).toContain("frame-ancestors 'none'");
      expect(policy).toMatch(/script-src 'self'/);
      expect(policy.match(/script-src[^;]*/)![0]).not.toMatch(/unsafe|\*|https?:/);
    }
    const api = await ada.call("/me");
    expect(api.headers.get("content-security-policy")).toBe("default-src 'none'; frame-ancestors 'none'");
    expect((await fetch(`${desk.origin()}/embed.js`)).headers.get("x-content-type-options")).toBe("nosniff");
  });
  it("frame the hosted form where its source says so, and nowhere else", async () => {
    const { key } = (await ada.call("/sources", { name: "Framed", channel: "website" })).body;
    const ancestors = async () =>
      /frame-ancestors ([^;]*)/.exec((await ada.go(`/f/${key}`)).headers.get("content-security-policy")!)![1];
    expect(await ancestors()).toBe("'self'");
    const field = { name: "email", label: "Email", type: "email", required: true, choices: [] };
    const form = { title: "Ask", intro: "", button: "Send", thanks: "Thanks", fields: [field] };
    const framed = { ...form, frames: ["https://www.example.com"] };
    expect((await ada.call(`/sources/${key}`, { form: framed })).body).toMatchObject({ form: framed });
    expect(await ancestors()).toBe("'self' https://www.example.com");
    const wrong = { ...form, frames: ["https://x.example; script-src *"] };
    expect((await ada.call(`/sources/${key}`, { form: wrong })).status).toBe(422);
  });
});

describe("addresses that are made up", () => {
  it("count for nothing unless a proxy says so: passwords are guessed no faster", async () => {
    const bare = realAddressOnly();
    const statuses: number[] = [];
    for (let i = 0; i < 14; i++) statuses.push((await bare.call(`x${i}`, `203.0.113.${i}`)).status);
    // From one address eight a minute; what is forwarded by nobody we know makes no other address.
    expect(statuses.filter((s) => s === 429).length).toBeGreaterThan(0);
  });
  it("an account is guessed at no faster from many addresses, and whoever has signed in before gets in meanwhile", async () => {
    const sam = await desk.hire("salesperson", "Sam Guessed");
    const guess = async () =>
      (await desk.visitor().go("/sign-in", { email: sam.email, password: "wrong wrong wrong" })).text;
    let said = "";
    for (let i = 0; i < 12; i++) said = await guess();
    expect(said).toContain("Too many tries");
    const right = { email: sam.email, password: "kites in the wind" };
    expect((await desk.visitor().go("/sign-in", right)).text).toContain("Too many tries");
    expect((await sam.browser.go("/sign-in", right)).status).toBe(302);
  });
  it("no more mails for a new password go to an account than a few an hour", async () => {
    const sam = await desk.hire("salesperson", "Sam Forgets");
    for (let i = 0; i < 6; i++) await desk.visitor().go("/sign-in", { forgotten: "1", email: sam.email });
    const db = new Database(join(desk.folder(), "kite-bell.db"), { readonly: true });
    const { n } = db
      .prepare("select count(*) as n from outbox where toAddress = ? and key like 'reset:%'")
      .get(sam.email) as { n: number };
    db.close();
    expect(n).toBe(3);
  });

  /** Signs in with a wrong password for an account of its own each time, claiming an address through no proxy. */
  function realAddressOnly() {
    return {
      call: (who: string, claimed: string) =>
        fetch(`${desk.origin()}/api/auth/sign-in/email`, {
          method: "POST",
          // The nearest proxy is ours; what stands further left was made up.
          headers: {
            "content-type": "application/json",
            origin: desk.origin(),
            "x-forwarded-for": `${claimed}, 192.0.2.77`,
          },
          body: JSON.stringify({ email: `${who}@example.com`, password: "wrong wrong" }),
        }),
    };
  }
});

describe("a live stream", () => {
  const listen = async (headers: Record<string, string>) => {
    const response = await fetch(`${desk.origin()}/api/v1/live`, { headers });
    const reader = response.body!.getReader();
    await reader.read();
    return {
      status: response.status,
      /** Resolves when the desk has ended it. */
      ended: (async () => {
        for (;;) if ((await reader.read()).done) return true;
      })(),
    };
  };
  it("ends when its session is signed out, and when its key is revoked", async () => {
    const sam = await desk.hire("salesperson", "Sam Listens");
    const stream = await listen({ cookie: sam.browser.cookie });
    expect(stream.status).toBe(200);
    await ada.call(`/access/people/${sam.id}/sign-out`, {});
    expect(await stream.ended).toBe(true);
    const made = (await ada.call("/keys", { name: "listens", scopes: ["read"] })).body;
    const byKey = await listen({ authorization: `Bearer ${made.key}` });
    expect(byKey.status).toBe(200);
    await ada.call(`/keys/${made.id}/revoke`, {});
    expect(await byKey.ended).toBe(true);
  });
});

describe("what nobody expected", () => {
  it("is a problem with a reference, and no empty page", async () => {
    const db = new Database(join(desk.folder(), "kite-bell.db"));
    db.exec("alter table audit rename to audit_gone");
    const { status, body } = await ada.call("/audit");
    db.exec("alter table audit_gone rename to audit");
    db.close();
    expect(status).toBe(500);
    expect(body.detail).toMatch(/It stands in the log as [0-9a-f]{8}\./);
    expect(body.detail).not.toContain("audit");
    expect((await ada.call("/audit")).status).toBe(200);
  });
  it("connecting an ad platform that is not set up says which setting is missing", async () => {
    const { status, body } = await ada.call("/ads/connect", {});
    expect([status, body.detail]).toEqual([409, expect.stringContaining("KITEBELL_ADS_URL")]);
  });
  it("methods nobody serves are refused", async () => {
    const status = await new Promise<number>((resolve, reject) =>
      request(`${desk.origin()}/`, { method: "TRACE" }, (answer) => resolve(answer.statusCode ?? 0))
        .on("error", reject)
        .end(),
    );
    expect(status).toBe(405);
  });
  it("a page behind a slash too many needs the same right", async () => {
    const sam = await desk.hire("salesperson", "Sam Slashes");
    for (const path of ["/setup/access", "//setup/access", "///setup//access"])
      expect([path, (await sam.browser.go(path)).text.includes("AccessView")]).toEqual([path, false]);
  });
});
