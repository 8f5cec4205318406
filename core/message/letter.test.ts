import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { exchangeLinks, letterHtml, letterText, linksIn } from "./letter.ts";

const plain = { company: "Tarnholt", unsubscribeUrl: null, because: null };

describe("a mail's two twins", () => {
  it("say the same, with lists, strong words and links as such", () => {
    const body = "Hi Ana,\n\n- a deck\n- *power*\n\nSee https://tarnholt.example/a?b=1&c=2.";
    const html = letterHtml({ ...plain, body });
    expect(html).toContain("<li>a deck</li><li><strong>power</strong></li>");
    expect(html).toContain('href="https://tarnholt.example/a?b=1&amp;c=2"');
    expect(html).toContain("</a>.</p>");
    expect(letterText({ ...plain, body })).toBe(body);
  });
  it("show a picture whose address stands alone, and count no opening of it", () => {
    const body = "See:\n\nhttps://tarnholt.example/deck.jpg\n\nor https://tarnholt.example/a.png here";
    const html = letterHtml({ ...plain, body });
    expect(html.match(/<img /g)).toHaveLength(1);
    expect(html).toContain('<img src="https://tarnholt.example/deck.jpg"');
    expect(exchangeLinks(body, () => "L")).toBe(body);
  });
  it("both tell the way out, where there is one", () => {
    const letter = {
      company: "Tarnholt",
      body: "Hi",
      unsubscribeUrl: "https://x.example/u/1",
      because: "You asked.",
    };
    expect(letterText(letter)).toContain("You asked.\nUnsubscribe: https://x.example/u/1");
    expect(letterHtml(letter)).toContain('<a href="https://x.example/u/1"');
  });
  it("let nothing that somebody wrote become markup", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 200 }), (body) => {
        const inside = letterHtml({ ...plain, body: `<script>${body}</script><img onerror=x>` });
        const tags = new Set([...inside.matchAll(/<([a-z!][a-z0-9]*)/g)].map((m) => m[1]));
        for (const tag of tags)
          expect([
            "!doctype",
            "html",
            "head",
            "meta",
            "body",
            "div",
            "p",
            "br",
            "ul",
            "li",
            "a",
            "strong",
          ]).toContain(tag);
      }),
    );
  });
});

describe("addresses in a text", () => {
  it("end before the full stop of the sentence, and are exchanged wherever they stand", () => {
    const text = "See https://a.example/x, or (https://b.example/y). Not mailto:x@y.example";
    expect(linksIn(text)).toEqual(["https://a.example/x", "https://b.example/y"]);
    expect(exchangeLinks(text, () => "L")).toBe("See L, or (L). Not mailto:x@y.example");
  });
});
