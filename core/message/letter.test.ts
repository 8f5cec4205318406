import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { letterHtml, letterText } from "./letter.ts";
import { exchangeLinks, exchanging, linksIn } from "./links.ts";
import { unlinked } from "./outside-words.ts";

const plain = { company: "Tarnholt", unsubscribeUrl: null, because: null };

describe("a mail's two twins", () => {
  it("say the same, with lists, strong words and links as such", () => {
    const body = "Hi Ana,\n\n- a deck\n- **power**\n\nSee [our page](https://tarnholt.example/a?b=1&c=2).";
    const html = letterHtml({ ...plain, body });
    expect(html).toMatch(/<li>a deck<\/li>\s*<li><strong>power<\/strong><\/li>/);
    expect(html).toContain('href="https://tarnholt.example/a?b=1&amp;c=2"');
    expect(letterText({ ...plain, body })).toBe(
      "Hi Ana,\n\n- a deck\n- power\n\nSee our page (https://tarnholt.example/a?b=1&c=2).",
    );
  });
  it("keep lines as their writer ended them", () => {
    const body = "Greta\nTarnholt Bathworks\n(303) 555-0100";
    expect(letterHtml({ ...plain, body })).toMatch(/Greta<br>\s*Tarnholt Bathworks<br>/);
    expect(letterText({ ...plain, body })).toBe(body);
  });
  it("name a page by what it is, whatever it leads by, and count each opening", () => {
    const seen: string[] = [];
    const exchange = exchanging((url) => `https://d.example/l/${seen.push(url)}`);
    const body = "https://tarnholt.example/barrels?utm=x or [a time](https://tarnholt.example/b)";
    const html = letterHtml({ ...plain, body, exchange });
    expect(html).toMatch(/<a href="https:\/\/d\.example\/l\/1"[^>]*>tarnholt\.example\/barrels<\/a>/);
    expect(html).toMatch(/<a href="https:\/\/d\.example\/l\/2"[^>]*>a time<\/a>/);
    expect(letterText({ ...plain, body, exchange })).toBe(
      "tarnholt.example/barrels (https://d.example/l/1) or a time (https://d.example/l/2)",
    );
    expect(seen).toEqual(["https://tarnholt.example/barrels?utm=x", "https://tarnholt.example/b"]);
  });
  it("show pictures of pages, and count no opening of them", () => {
    const body = "![The deck](https://tarnholt.example/deck.jpg)\n\n![](data:image/png;base64,AAAA)";
    const html = letterHtml({ ...plain, body, exchange: () => "https://d.example/l/1" });
    expect(html).toContain('<img src="https://tarnholt.example/deck.jpg" alt="The deck"');
    expect(html.match(/<img /g)).toHaveLength(1);
    expect(html).not.toContain("d.example");
  });
  it("carry the company’s sign where it has one, with its name for who sees no pictures", () => {
    const html = letterHtml({ ...plain, body: "Hi", logo: "https://desk.example/logo/f1" });
    expect(html).toContain('<img src="https://desk.example/logo/f1" alt="Tarnholt"');
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
  it.each([
    "[x](javascript:alert(1))",
    "[x](JaVaScRiPt&colon;alert(1))",
    "[x](vbscript:x)",
    "[x](data:text/html;base64,AAAA)",
    "[x](//evil.example)",
    "<javascript:alert(1)>",
  ])("make no link of %s", (body) => {
    expect(letterHtml({ ...plain, body })).not.toMatch(/<a /);
  });
  it("let nothing that somebody wrote become markup of another kind", () => {
    const known =
      "!doctype html head meta body div p br ul ol li a strong em h1 h2 h3 h4 h5 h6 blockquote code pre hr img";
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 200 }), (body) => {
        const inside = letterHtml({ ...plain, body: `<script>${body}</script><img onerror=x>` });
        const tags = new Set([...inside.matchAll(/<([a-z!][a-z0-9]*)/g)].map((m) => m[1]!));
        for (const tag of tags) expect(known.split(" ")).toContain(tag);
        expect(inside).not.toMatch(/<[^>]* on\w+=/i);
      }),
    );
  });
  it("carry no link that came with words from outside", () => {
    fc.assert(
      fc.property(
        fc.string({ unit: "binary", maxLength: 60 }),
        fc.constantFrom("", "x", "]"),
        (text, label) => {
          const said = unlinked(
            `[${label}](https://evil.example/${text}) ${text} <https://evil.example> http://a.b`,
          );
          expect(letterHtml({ ...plain, body: `They wrote: ${said}` })).not.toMatch(/<a |<img /);
        },
      ),
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
