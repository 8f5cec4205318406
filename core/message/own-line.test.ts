import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import type { Setup } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";
import { ownLine } from "./reply.ts";

/** From which line or address the desk writes. */

const { company } = tarnholt.policies;
const line = (id: string, change: Partial<Source>): Source => ({
  ...tarnholt.sources.find((s) => s.channel === "text")!,
  id,
  key: id,
  line: `+1303555${id}`,
  state: "live",
  ...change,
});
const withLines = (...lines: Source[]): Setup => ({ ...tarnholt, sources: [...tarnholt.sources, ...lines] });
const site = tarnholt.sources.find((s) => s.channel === "website");
const group = tarnholt.groups.find((g) => g.members.some((m) => m.personId === "p_mara"))!;

describe("what is written by hand comes from", () => {
  it("the writer’s own line first, then their group’s, then the source’s, then the company’s", () => {
    const own = line("0001", { lineOwnerId: "p_mara" });
    const theirs = line("0002", { lineGroupId: group.id });
    const source = line("0003", {});
    const from = (setup: Setup, of: Source | undefined = site) => ownLine(setup, of, "text", "p_mara");
    expect(from(withLines(theirs, own))).toBe("+13035550001");
    expect(from(withLines(theirs))).toBe("+13035550002");
    expect(from(withLines(source), source)).toBe("+13035550003");
    expect(from(tarnholt)).toBe(company.textLine);
  });
  it("no line that is somebody else’s, of another channel, or paused", () => {
    const others = [
      line("0004", { lineOwnerId: "p_luc" }),
      line("0005", { lineOwnerId: "p_mara", channel: "call" }),
      line("0006", { lineOwnerId: "p_mara", state: "paused" }),
      line("0007", { lineGroupId: "g_nobody" }),
    ];
    expect(ownLine(withLines(...others), site, "text", "p_mara")).toBe(company.textLine);
  });
  it("an address of their own for mails", () => {
    const mail = line("0008", { channel: "email", line: "mara@tarnholt.example", lineOwnerId: "p_mara" });
    expect(ownLine(withLines(mail), site, "email", "p_mara")).toBe("mara@tarnholt.example");
    expect(ownLine(withLines(mail), site, "email", "p_luc")).toBe(company.email);
  });
});

it("what goes out on its own comes from the source’s line, whoever has the lead", () => {
  const own = line("0001", { lineOwnerId: "p_mara" });
  const source = line("0003", {});
  expect(ownLine(withLines(own), source, "text")).toBe("+13035550003");
});
