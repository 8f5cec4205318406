import { beforeEach, describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench } from "../../tests/support/memory.ts";
import { noteHtml } from "../message/note.ts";
import { addNote, answerColleague, editNote, mentionsIn, noteText } from "./notes.ts";
import type { Decided } from "./plan.ts";

let at: Bench;
let id: string;

beforeEach(() => {
  at = new Bench();
  id = at.arrive({ name: "Rosa Lindqvist" });
});

const code = (decided: Decided) => (decided.ok ? null : decided.problem.code);
const note = (text: string, by = "p_mara", asks = false) =>
  at.desk.commit(addNote(at.desk.look(id), by, text, asks));
const history = () => at.desk.events.get(id)!;
const last = () => at.events(id, "noted").at(-1)!;

describe("who is named", () => {
  it.each([
    ["@Greta look", ["p_greta"]],
    ["@greta mbeki, and @Ines", ["p_ines", "p_greta"]],
    ["mail me @ home, x@greta.example", []],
    ["@Homes who can?", tarnholt.groups.find((g) => g.name === "Homes")!.members.map((m) => m.personId)],
    ["@Nobody", []],
  ])("%s", (text, ids) => expect([...mentionsIn(tarnholt, text)].sort()).toEqual([...ids].sort()));
  it("somebody who has left is not", () => {
    const people = tarnholt.people.map((p) => (p.id === "p_greta" ? { ...p, left: true as const } : p));
    expect(mentionsIn({ ...tarnholt, people }, "@Greta")).toEqual([]);
  });
});

describe("a note", () => {
  it("tells whoever is named, and not whoever writes it", () => {
    note("@Greta @Mara see here");
    expect(last().data.mentions).toEqual(["p_greta"]);
    expect(at.desk.alerts.filter((a) => a.purpose === "mentioned").map((a) => a.personId)).toContain(
      "p_greta",
    );
  });

  it("is mended by whoever wrote it; what it said before stays in the events", () => {
    note("Six units");
    const noteId = last().id;
    expect(code(editNote(at.desk.look(id), "p_greta", noteId, "x", history()))).toBe("not-yours-to-mend");
    expect(code(editNote(at.desk.look(id), "p_mara", "ev_none", "x", history()))).toBe("no-such-note");
    expect(code(editNote(at.desk.look(id), "p_mara", noteId, " ", history()))).toBe("nothing-written");
    at.act(id, (w) => editNote(w, "p_mara", noteId, "Eight units, @Ines", history()));
    expect(noteText(noteId, history())).toBe("Eight units, @Ines");
    expect(last().data.text).toBe("Six units");
    expect(at.desk.alerts.at(-1)?.personId).toBe("p_ines");
  });
});

describe("a question to a colleague", () => {
  it("stays open until one of those named answers, and whoever asked hears of it", () => {
    note("@Greta @Ines may I go to 8 %?", "p_mara", true);
    const { noteId, to } = at.lead(id).asked[0]!;
    expect(to).toEqual(["p_ines", "p_greta"]);
    expect(at.desk.alerts.at(-1)?.body).toContain("asks: @Greta @Ines may I go to 8 %?");
    at.act(id, (w) => answerColleague(w, "p_ines", noteId, "Six at most"));
    expect(at.lead(id).asked).toEqual([]);
    expect(at.desk.alerts.at(-1)).toMatchObject({ personId: "p_mara" });
    expect(code(answerColleague(at.desk.look(id), "p_greta", noteId, "x"))).toBe("answered-already");
  });

  it("names somebody, or is refused", () =>
    expect(code(note("May I?", "p_mara", true))).toBe("nobody-is-asked"));

  it("is dropped by whoever asked, and by nobody else without words", () => {
    note("@Greta may I?", "p_mara", true);
    const { noteId } = at.lead(id).asked[0]!;
    expect(code(answerColleague(at.desk.look(id), "p_greta", noteId, " "))).toBe("nothing-written");
    at.act(id, (w) => answerColleague(w, "p_mara", noteId, ""));
    expect(at.lead(id).asked).toEqual([]);
    expect(at.events(id, "question-dropped")).toHaveLength(1);
  });
});

describe("a note as it is read", () => {
  it("shows lists, emphasis and links, and never what its writer’s HTML would do", () => {
    expect(noteHtml("- one\n- **two**\n\nhttps://x.example/a")).toBe(
      '<ul>\n<li>one</li>\n<li><strong>two</strong></li>\n</ul>\n<p><a href="https://x.example/a" rel="noreferrer nofollow" target="_blank">https://x.example/a</a></p>\n',
    );
    for (const bad of [
      "<script>x</script>",
      "<img src=x onerror=y>",
      "[a](javascript:x)",
      "![a](https://x.example/p.png)",
    ]) {
      const html = noteHtml(bad);
      expect(html).not.toMatch(/<script|<img|href="javascript/);
    }
  });
});
