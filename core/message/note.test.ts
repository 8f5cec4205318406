// @vitest-environment jsdom
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { noteHtml } from "./note.ts";

/** Notes are read by a browser’s own parser: what it makes of them is what a colleague’s browser would. */
const read = (text: string) => new DOMParser().parseFromString(noteHtml(text), "text/html").body;

const ALLOWED = new Set(["P", "BR", "UL", "OL", "LI", "EM", "STRONG", "A", "CODE", "PRE", "BLOCKQUOTE"]);

describe("a note", () => {
  it("has lists, emphasis, links and line breaks", () => {
    const body = read("Ask *Ana* about:\n\n- the deck\n- **power**\n\nSee https://maps.example/x?a=1&b=2");
    expect([...body.querySelectorAll("li")].map((li) => li.textContent)).toEqual(["the deck", "power"]);
    expect(body.querySelector("em")?.textContent).toBe("Ana");
    expect(body.querySelector("a")?.getAttribute("href")).toBe("https://maps.example/x?a=1&b=2");
    expect(read("one\ntwo").querySelectorAll("br")).toHaveLength(1);
  });
  it("opens links beside the desk, and tells the other side nothing of it", () => {
    const link = read("[plan](https://a.example)").querySelector("a")!;
    expect([link.target, link.rel]).toEqual(["_blank", "noreferrer nofollow"]);
  });
  it.each([
    "<script>alert(1)</script>",
    "<img src=x onerror=alert(1)>",
    "![a](https://spy.example/pixel.png)",
    "[a](javascript:alert(1))",
    "[a](data:text/html;base64,PHN2Zz4=)",
    "[a](JaVaScRiPt&#58;alert(1))",
    "<a href='https://x.example' onclick=alert(1)>x</a>",
    '[a](https://x.example "title" onmouseover="x")',
    "[a]: javascript:alert(1)\n\n[a]",
    "<https://ok.example><svg/onload=alert(1)>",
    "`<iframe src=//x>`",
  ])("%s runs nothing and loads nothing", (text) => {
    const body = read(text);
    for (const element of body.querySelectorAll("*")) {
      expect(ALLOWED.has(element.tagName) ? "" : element.outerHTML).toBe("");
      expect(element.getAttributeNames().filter((name) => name.startsWith("on"))).toEqual([]);
    }
    for (const link of body.querySelectorAll("a")) expect(link.href).toMatch(/^(https?:|mailto:|tel:)/);
  });
  const piece = fc.oneof(
    fc.constantFrom(
      "<",
      ">",
      "[",
      "](",
      ")",
      "!",
      "*",
      "_",
      "`",
      "\n",
      "\n- ",
      "&#106;",
      "javascript:",
      "https://a.example",
      '"',
      "on",
      "=",
      "\\",
      "<img ",
      "</",
    ),
    fc.string({ maxLength: 4 }),
  );
  it("never throws and never lets anything but words, lists and web links through, whatever is typed", () => {
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 30 }), (pieces) => {
        const body = read(pieces.join(""));
        for (const element of body.querySelectorAll("*")) {
          if (!ALLOWED.has(element.tagName)) throw new Error(element.outerHTML);
          for (const name of element.getAttributeNames())
            if (!["href", "rel", "target", "title", "class", "start"].includes(name))
              throw new Error(element.outerHTML);
        }
        for (const link of body.querySelectorAll("a"))
          if (!/^(https?:|mailto:|tel:)/.test(link.href)) throw new Error(link.outerHTML);
      }),
      { numRuns: 400 },
    );
  });
});
