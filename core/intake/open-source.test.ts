import { describe, expect, it } from "vitest";
import type { Source } from "../policy/source.ts";
import { openSource } from "./open-source.ts";

const source = (key: string, state: Source["state"]): Source => ({
  id: `s_${key}`,
  key,
  name: key,
  channel: "website",
  state,
  mapping: { version: 1, fields: {}, joins: [], constants: {}, tags: [] },
});
const all = [source("live", "live"), source("paused", "paused"), source("draft", "draft")];
const found = (key: string) => {
  const open = openSource(all, key);
  return open.ok ? open.source.key : open.problem.code;
};

describe("a source that is written to from outside", () => {
  it("takes what comes while it is live and while it is paused", () => {
    expect(["live", "paused"].map(found)).toEqual(["live", "paused"]);
  });
  it("takes nothing as a draft, by another's key, or by its id", () => {
    expect(["draft", "nowhere", "s_live", ""].map(found)).toEqual([
      "not-live",
      "no-such-source",
      "no-such-source",
      "no-such-source",
    ]);
  });
});
