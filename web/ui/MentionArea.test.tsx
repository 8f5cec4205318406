// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, describe, expect, it } from "vitest";
import { MentionArea, nameAt } from "./MentionArea.tsx";

/** Naming colleagues in a note, as it is typed. */

afterEach(cleanup);

const NAMES = ["Greta Mbeki", "Greta’s group", "Mara Whitehorse", "Idris Bell-Hassan"];

function Note({ keep }: { readonly keep: (text: string) => void }) {
  const [text, setText] = useState("");
  const put = (next: string) => {
    setText(next);
    keep(next);
  };
  return <MentionArea label="A note" value={text} onChange={put} names={NAMES} />;
}

function typing() {
  let kept = "";
  render(
    <Note
      keep={(text) => {
        kept = text;
      }}
    />,
  );
  const user = userEvent.setup();
  const area = screen.getByLabelText("A note");
  const offered = () => screen.queryAllByRole("option").map((o) => o.textContent);
  const chosen = () => screen.queryByRole("option", { selected: true })?.textContent;
  return { user, area, offered, chosen, text: () => kept };
}

describe("a name that is being typed", () => {
  it.each([
    ["@gr", 3, { from: 0, typed: "gr" }],
    ["ask @gr", 7, { from: 4, typed: "gr" }],
    ["ask @", 5, { from: 4, typed: "" }],
    ["ask\n@m", 6, { from: 4, typed: "m" }],
    ["ask @gr later", 7, { from: 4, typed: "gr" }],
  ])("in “%s” at %d", (text, caret, found) => expect(nameAt(text, caret)).toEqual(found));
  it.each([
    ["ana@mail.example", 16],
    ["ask @gr", 4],
    ["ask @gr\nand", 11],
    ["nobody", 6],
    [`@${"x".repeat(41)}`, 42],
  ])("is none in “%s” at %d", (text, caret) => expect(nameAt(text, caret)).toBeNull());
});

describe("the picker after @", () => {
  it("offers whose name begins so, and Enter takes the first, with a space to go on", async () => {
    const { user, area, offered, text } = typing();
    await user.type(area, "Could you look, @gre");
    expect(offered()).toEqual(["Greta Mbeki", "Greta’s group"]);
    await user.keyboard("{Enter}");
    expect(text()).toBe("Could you look, @Greta Mbeki ");
    await user.keyboard("please?");
    expect(text()).toBe("Could you look, @Greta Mbeki please?");
    expect(offered()).toEqual([]);
  });
  it("is walked by the arrows, round and round, and Tab takes too", async () => {
    const { user, area, chosen, text } = typing();
    await user.type(area, "@gre");
    expect(chosen()).toBe("Greta Mbeki");
    await user.keyboard("{ArrowDown}");
    expect(chosen()).toBe("Greta’s group");
    expect(area.getAttribute("aria-activedescendant")).toBe(
      screen.getByRole("option", { selected: true }).id,
    );
    await user.keyboard("{ArrowDown}");
    expect(chosen()).toBe("Greta Mbeki");
    await user.keyboard("{ArrowUp}{Tab}");
    expect(text()).toBe("@Greta’s group ");
  });
  it("is closed by Escape, which closes nothing else, and Enter is a new line again", async () => {
    const { user, area, offered, text } = typing();
    let heard = 0;
    const hear = (event: KeyboardEvent) => {
      if (event.key === "Escape") heard++;
    };
    document.addEventListener("keydown", hear);
    await user.type(area, "@ma{Escape}");
    expect([offered(), heard]).toEqual([[], 0]);
    await user.keyboard("{Enter}{Escape}");
    expect([text(), heard]).toEqual(["@ma\n", 1]);
    document.removeEventListener("keydown", hear);
  });
  it("says nothing in an address, nor once the name stands there whole", async () => {
    const { user, area, offered } = typing();
    await user.type(area, "ana@gre");
    expect(offered()).toEqual([]);
    await user.clear(area);
    await user.type(area, "@mara whitehorse");
    expect(offered()).toEqual([]);
  });
  it("takes by the pointer without leaving the note", async () => {
    const { user, area, text } = typing();
    await user.type(area, "@idr");
    await user.pointer({
      keys: "[MouseLeft]",
      target: screen.getByRole("option", { name: "Idris Bell-Hassan" }),
    });
    expect(text()).toBe("@Idris Bell-Hassan ");
    expect(document.activeElement).toBe(area);
  });
});
