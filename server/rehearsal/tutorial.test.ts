import { existsSync } from "node:fs";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { ROLES } from "../../core/access/access.ts";
import { give, take } from "../../core/desk/hand-off.ts";
import { addNote } from "../../core/desk/notes.ts";
import { park } from "../../core/desk/park.ts";
import { logTry, setNextStep, writeTo } from "../../core/desk/work.ts";
import type { Role } from "../../core/policy/people.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { DAY } from "../../tests/support/memory.ts";
import { pageNeeds } from "../../web/api/pages.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";
import { TUTORIALS, Tutorials } from "./tutorial.ts";

const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;
const roles = Object.keys(TUTORIALS) as Role[];

let desk: Desk;
let tutorials: Tutorials;
beforeEach(async () => {
  desk = await testDesk({ clock: new MovableClock(NINE, { frozen: true }) });
  tutorials = new Tutorials(desk);
});
afterEach(() => desk.close());

const inquire = async () =>
  (
    await desk.intake.submit(site, {
      contentType: "application/json",
      headers: {},
      raw: Buffer.from(JSON.stringify({ name: "Ana Ruiz", phone: "303 555 0123", email: "ana@example.com" })),
    })
  ).leadId!;
const act = (id: string, decide: Parameters<Desk["act"]>[1]) => {
  const done = desk.act(id, decide);
  if (!done.ok) throw new Error(done.problem.detail);
};
const done = (person: string, role: Role) =>
  tutorials.of(person, role)?.flatMap((s) => (s.done ? [s.key] : [])) ?? null;

describe("what a role learns", () => {
  it.each(roles)("%s: each step leads to a page there is, and that they may see", (role) => {
    const pages = join(import.meta.dirname, "../../web/pages");
    for (const { href } of TUTORIALS[role]) {
      const path = href === "/" ? "index" : href.slice(1);
      expect(
        existsSync(join(pages, `${path}.astro`)) || existsSync(join(pages, path, "index.astro")),
        href,
      ).toBe(true);
      const needs = pageNeeds(href);
      if (needs !== "rehearsal" && needs !== "signed-in" && needs !== "anybody")
        expect(ROLES[role]).toContain(needs);
    }
    expect(new Set(TUTORIALS[role].map((s) => s.key)).size).toBe(TUTORIALS[role].length);
  });

  it("is nothing until they begin, and nothing again once they leave it", () => {
    expect(tutorials.of("p_mara", "salesperson")).toBeNull();
    tutorials.begin("p_mara");
    expect(done("p_mara", "salesperson")).toEqual([]);
    tutorials.end("p_mara");
    expect(tutorials.of("p_mara", "salesperson")).toBeNull();
  });

  it("is ticked by what a salesperson does, and by nobody else's doing nor by what was before", async () => {
    const before = await inquire();
    act(before, (w) => take(w, "p_mara"));
    tutorials.begin("p_mara");
    expect(done("p_mara", "salesperson")).toEqual([]);
    act(before, (w) => addNote(w, "p_ines", "hello"));
    expect(done("p_mara", "salesperson")).toEqual([]);
    act(before, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "voicemail", note: null }));
    act(before, (w) => addNote(w, "p_mara", "hello"));
    act(before, (w) => setNextStep(w, "p_mara", { kind: "call", dueAt: NINE + DAY, note: "Again" }));
    act(before, (w) =>
      writeTo(w, { personId: "p_mara", channel: "email", subject: "Hello", body: "Hello", template: null }),
    );
    tutorials.visited("p_mara", "/rounds");
    expect(done("p_mara", "salesperson")).toEqual(["try", "write", "step", "note", "rounds"]);
  });

  it("is ticked by what a coordinator, a manager and an administrator do", async () => {
    for (const person of ["p_ines", "p_greta", "p_oskar"]) tutorials.begin(person);
    const id = await inquire();
    act(id, (w) => give(w, "p_ines", "p_mara", "knows them"));
    act(id, (w) => park(w, "p_ines", "Waits", null));
    desk.office.audit("p_ines", "took in an inquiry from quarantine, corrected");
    desk.lists.save(
      { me: { id: "p_ines", role: "coordinator" }, rights: new Set(ROLES.coordinator) },
      { name: "Mine", where: null, columns: ["name"], sort: "recent", shared: "me" },
    );
    tutorials.visited("p_ines", "/today");
    expect(done("p_ines", "coordinator")).toEqual(TUTORIALS.coordinator.map((s) => s.key));

    desk.office.setDuty("p_mara", true, "p_greta");
    desk.changeSetup(
      { ...desk.setup, policies: { ...desk.setup.policies, rules: desk.setup.policies.rules.slice(1) } },
      "p_greta",
    );
    expect(done("p_greta", "manager")).toEqual(["routing", "duty"]);

    desk.keys.make("a program", ["read"], "p_oskar");
    desk.customers.saveHook("p_oskar", { name: "L", url: "https://ledger.example", events: [], on: true });
    desk.office.audit("p_oskar", "had the desk backed up");
    expect(desk.erasures.ask(await inquire(), "p_oskar", "").ok).toBe(true);
    tutorials.visited("p_oskar", "/setup/changes");
    expect(done("p_oskar", "administrator")).toEqual(TUTORIALS.administrator.map((s) => s.key));
  });
});
