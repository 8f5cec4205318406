// @vitest-environment jsdom
import { act, cleanup, render, renderHook, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { Toasts } from "../ui/Toasts.tsx";
import { useEditing, useKeptTyping, useSetupDraft } from "./setup-draft.ts";

/** What is typed in Set-up, as somebody types it: a colleague's change, a reload and a look elsewhere lose none of it. */

interface Hours {
  readonly opens: string;
  readonly closes: string;
}
const IN_FORCE: Hours = { opens: "08:00", closes: "18:00" };
const TYPED: Hours = { opens: "07:30", closes: "18:00" };

beforeEach(() => sessionStorage.clear());
afterEach(cleanup);

const drafting = (inForce: Hours | null = IN_FORCE, name = "hours") =>
  renderHook(({ given, place }) => useSetupDraft<Hours>(place, given), {
    initialProps: { given: inForce, place: name },
  });
const type = (hook: ReturnType<typeof drafting>, next: Hours | null) =>
  act(() => hook.result.current[1](next));

describe("a draft of Set-up", () => {
  it("is nothing until it is known what is in force, and then that", () => {
    const hook = drafting(null);
    expect(hook.result.current[0]).toBeNull();
    hook.rerender({ given: IN_FORCE, place: "hours" });
    expect(hook.result.current[0]).toEqual(IN_FORCE);
  });
  it("is what was typed, whatever a colleague puts in force meanwhile", () => {
    const hook = drafting();
    type(hook, TYPED);
    hook.rerender({ given: { opens: "09:00", closes: "17:00" }, place: "hours" });
    expect(hook.result.current[0]).toEqual(TYPED);
  });
  it("shows a colleague's change at once where nothing was typed", () => {
    const hook = drafting();
    const theirs = { opens: "09:00", closes: "17:00" };
    hook.rerender({ given: theirs, place: "hours" });
    expect(hook.result.current[0]).toEqual(theirs);
  });
  it("is there again after a reload, and on coming back from another page", () => {
    type(drafting(), TYPED);
    cleanup();
    expect(drafting().result.current[0]).toEqual(TYPED);
  });
  it("is another page's own: one place knows nothing of the other", () => {
    const hook = drafting();
    type(hook, TYPED);
    hook.rerender({ given: IN_FORCE, place: "parking" });
    expect(hook.result.current[0]).toEqual(IN_FORCE);
    hook.rerender({ given: IN_FORCE, place: "hours" });
    expect(hook.result.current[0]).toEqual(TYPED);
  });
  it("that says what is in force is no typing, and follows again", () => {
    const hook = drafting();
    type(hook, TYPED);
    type(hook, { ...IN_FORCE });
    const theirs = { opens: "10:00", closes: "16:00" };
    hook.rerender({ given: theirs, place: "hours" });
    expect(hook.result.current[0]).toEqual(theirs);
    expect(sessionStorage.length).toBe(0);
  });
  it("is forgotten once it is in force, here or put there by somebody else", () => {
    const hook = drafting();
    type(hook, TYPED);
    hook.rerender({ given: { ...TYPED }, place: "hours" });
    expect(sessionStorage.length).toBe(0);
    const theirs = { opens: "10:00", closes: "16:00" };
    hook.rerender({ given: theirs, place: "hours" });
    expect(hook.result.current[0]).toEqual(theirs);
  });
  it("goes back to what is in force when it is thrown away", () => {
    const hook = drafting();
    type(hook, TYPED);
    type(hook, null);
    expect(hook.result.current[0]).toEqual(IN_FORCE);
  });
  it("takes two changes in one moment one after the other", () => {
    const hook = drafting();
    act(() => {
      hook.result.current[1]((before) => ({ ...before!, opens: "06:00" }));
      hook.result.current[1]((before) => ({ ...before!, closes: "20:00" }));
    });
    expect(hook.result.current[0]).toEqual({ opens: "06:00", closes: "20:00" });
  });
  it("lasts as long as the page where the browser keeps nothing", () => {
    const kept = Object.getOwnPropertyDescriptor(Storage.prototype, "setItem")!;
    Storage.prototype.setItem = () => {
      throw new DOMException("full", "QuotaExceededError");
    };
    try {
      const hook = drafting();
      type(hook, TYPED);
      expect(hook.result.current[0]).toEqual(TYPED);
    } finally {
      Object.defineProperty(Storage.prototype, "setItem", kept);
    }
  });
  it("does not mind what else lies in the browser under its name", () => {
    sessionStorage.setItem("kb_typed:hours", "{ no JSON");
    expect(drafting().result.current[0]).toEqual(IN_FORCE);
  });
});

describe("one thing that lies open", () => {
  const editing = () =>
    renderHook(({ given }) => useEditing<Hours>("person:p_mara", given), {
      initialProps: { given: IN_FORCE },
      wrapper: Toasts,
    });
  it("says whether anything was changed, and keeps it when it is closed and opened again", () => {
    const hook = editing();
    expect(hook.result.current.changed).toBe(false);
    act(() => hook.result.current.put(TYPED));
    expect(hook.result.current.changed).toBe(true);
    cleanup();
    expect(editing().result.current).toMatchObject({ draft: TYPED, changed: true });
  });
  it("is done: nothing is left of it for the next time", () => {
    const hook = editing();
    act(() => hook.result.current.put(TYPED));
    act(() => hook.result.current.done());
    cleanup();
    expect(editing().result.current).toMatchObject({ draft: IN_FORCE, changed: false });
  });
  it("is left as it was, and what was typed comes back with one press", async () => {
    const hook = editing();
    act(() => hook.result.current.put(TYPED));
    act(() => hook.result.current.leave());
    expect(hook.result.current.draft).toEqual(IN_FORCE);
    expect(screen.getByRole("status").textContent).toContain("Changes discarded.");
    act(() => screen.getByRole("button", { name: /Undo/ }).click());
    expect(hook.result.current.draft).toEqual(TYPED);
  });
  it("says nothing when nothing was typed and it is left", () => {
    const hook = editing();
    act(() => hook.result.current.leave());
    expect(screen.getByRole("status").textContent).toBe("");
  });
});

const EMPTY = { note: "", words: "" };
const NoteDialog = () => {
  const [typed, keep, forget] = useKeptTyping("outcome:lead_1", EMPTY);
  return (
    <>
      <input
        aria-label="Note"
        value={typed.note}
        onChange={(e) => keep({ ...typed, note: e.target.value })}
      />
      <button type="button" onClick={forget}>
        Done
      </button>
    </>
  );
};

describe("what is typed into a dialog", () => {
  const note = () => screen.getByLabelText<HTMLInputElement>("Note");
  const write = (text: string) =>
    act(() => {
      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!;
      set.call(note(), text);
      note().dispatchEvent(new Event("input", { bubbles: true }));
    });
  it("is there when it is opened again, and not once it was done", () => {
    render(<NoteDialog />);
    write("Wants a bench");
    cleanup();
    render(<NoteDialog />);
    expect(note().value).toBe("Wants a bench");
    act(() => screen.getByText("Done").click());
    cleanup();
    render(<NoteDialog />);
    expect(note().value).toBe("");
  });
});
