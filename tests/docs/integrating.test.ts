import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** Every example of the page for those who connect other programs, sent as it is printed, in its order. */

const { server } = rehearsal();
const page = readFileSync(join(import.meta.dirname, "../../docs/integrating.md"), "utf8");

interface Example {
  readonly status: number;
  readonly method: string;
  readonly path: string;
  readonly headers: Record<string, string>;
  readonly body: string | undefined;
}

const examples = [...page.matchAll(/^Answered (\d{3})[^\n]*:\n\n```http\n([\s\S]*?)```/gm)].map(
  ([, status, text]): Example => {
    const [head = "", body] = text!.trimEnd().split("\n\n");
    const [first = "", ...lines] = head.split("\n");
    const [method = "", path = ""] = first.split(" ");
    const headers = Object.fromEntries(
      lines.map((line) => line.split(/: (.*)/).slice(0, 2) as [string, string]),
    );
    return { status: Number(status), method, path, headers, body };
  },
);

describe("each example", () => {
  it("is found, and none stands without what is answered", () => {
    expect(examples.length).toBeGreaterThan(8);
    expect(page.match(/```http/g)).toHaveLength(examples.length);
  });

  it.each(examples.map((e) => [`${e.method} ${e.path.split("?")[0]}`, e] as const))(
    "%s is answered as it says",
    async (_, { status, method, path, headers, body }) => {
      const response = await fetch(server().origin + path, { method, headers, ...(body && { body }) });
      const text = await response.text();
      expect([response.status, text.slice(0, 300)]).toEqual([status, expect.any(String)]);
      if (path.includes("/intake/") && status === 202)
        expect(JSON.parse(text)).toMatchObject({ quarantined: false });
      if (path.startsWith("/api/v1/events")) expect(JSON.parse(text).items.length).toBeGreaterThan(3);
      if (path.includes("leads.json")) expect(JSON.parse(text).items).toMatchObject([{ name: "Ana Ruiz" }]);
    },
  );
});
