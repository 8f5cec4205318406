// @vitest-environment jsdom
import { act, cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Choice } from "./Choice.tsx";
import { Dialog } from "./Dialog.tsx";
import { Tabs } from "./Tabs.tsx";
import { Toasts, useSay } from "./Toasts.tsx";

/** Parts of the interface on their own, with keys and a pointer. */

afterEach(cleanup);

let say: ReturnType<typeof useSay>;
/** Lets a test speak. */
const Speaker = () => {
  say = useSay();
  return null;
};

describe("toasts", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    render(
      <Toasts>
        <Speaker />
      </Toasts>,
    );
  });
  afterEach(() => vi.useRealTimers());
  const shown = () => screen.getByRole("status").textContent;

  it("say what was done and go on their own; what went wrong stays longer, what can be taken back longest", () => {
    act(() => {
      say.done("Logged.");
      say.wrong("Not sent.");
      say.done("Given.", () => {});
    });
    const seenAfter = (seconds: number) => {
      act(() => vi.advanceTimersByTime(seconds * 1000));
      return shown();
    };
    expect(seenAfter(5)).toMatch(/Logged.*Not sent.*Given/);
    expect(seenAfter(2)).not.toContain("Logged");
    expect(seenAfter(9)).not.toContain("Not sent");
    expect(shown()).toContain("Given.");
    expect(seenAfter(15)).toBe("");
  });
  it("take back the last that can be taken back, once, and say when there is none", () => {
    const undone: string[] = [];
    act(() => {
      say.done("First.", () => undone.push("first"));
      say.done("Second.", () => undone.push("second"));
      say.done("Third.");
    });
    const undo = () => {
      let was = false;
      act(() => {
        was = say.undoLast();
      });
      return was;
    };
    expect([undo(), undo(), undo()]).toEqual([true, true, false]);
    expect(undone).toEqual(["second", "first"]);
  });
  it("never stand more than three high, the newest kept", () => {
    act(() => {
      for (const n of ["One.", "Two.", "Three.", "Four."]) say.done(n);
    });
    expect(shown()).not.toContain("One.");
    expect(shown()).toMatch(/Two.*Three.*Four/);
  });
  it("are dismissed by hand, one at a time", () => {
    act(() => {
      say.done("Stays.");
      say.wrong("Goes.");
    });
    act(() => screen.getAllByRole("button", { name: "Dismiss" })[1]!.click());
    expect(shown()).toContain("Stays.");
    expect(shown()).not.toContain("Goes.");
  });
});

const Opened = ({ onClose, empty = false }: { onClose: () => void; empty?: boolean }) => (
  <Dialog title="Put it off" onClose={onClose}>
    {empty ? (
      <p>Looking …</p>
    ) : (
      <>
        <input disabled aria-label="Not yours" />
        <input aria-label="When" />
      </>
    )}
  </Dialog>
);

describe("a dialog", () => {
  it("has its name, and the focus on the first thing one can do in it", async () => {
    render(<Opened onClose={() => {}} />);
    expect(await screen.findByRole("dialog", { name: "Put it off" })).toBeTruthy();
    expect(document.activeElement).toBe(screen.getByLabelText("When"));
  });
  it("has the focus itself while there is nothing in it yet", async () => {
    render(<Opened onClose={() => {}} empty />);
    expect(document.activeElement).toBe(await screen.findByRole("dialog"));
  });
  it("closes on Escape and by its button, and not by a press inside", async () => {
    const user = userEvent.setup();
    const closed = vi.fn();
    render(<Opened onClose={closed} />);
    await user.click(screen.getByLabelText("When"));
    expect(closed).not.toHaveBeenCalled();
    await user.keyboard("{Escape}");
    expect(closed).toHaveBeenCalledTimes(1);
    await user.click(screen.getByRole("button", { name: "Close" }));
    expect(closed).toHaveBeenCalledTimes(2);
  });
});

const TABS = [
  { key: "a", name: "What happened" },
  { key: "b", name: "Facts" },
  { key: "c", name: "Files" },
] as const;

const Shown = () => {
  const [chosen, setChosen] = useState<"a" | "b" | "c">("a");
  return <Tabs label="About the lead" tabs={TABS} chosen={chosen} onChoose={setChosen} />;
};

describe("tabs", () => {
  const chosen = () => screen.getByRole("tab", { selected: true }).textContent!.trim();
  it("move with the arrows, round both ends, and the focus goes along", async () => {
    const user = userEvent.setup();
    render(<Shown />);
    await user.tab();
    const seen = [chosen()];
    for (const key of ["{ArrowRight}", "{ArrowRight}", "{ArrowRight}", "{ArrowLeft}"]) {
      await user.keyboard(key);
      seen.push(chosen());
      expect(document.activeElement).toBe(screen.getByRole("tab", { selected: true }));
    }
    expect(seen).toEqual(["What happened", "Facts", "Files", "What happened", "Files"]);
  });
  it("are one stop of the Tab key", async () => {
    const user = userEvent.setup();
    render(
      <>
        <Shown />
        <button type="button">After</button>
      </>,
    );
    await user.tab();
    await user.tab();
    expect(document.activeElement).toBe(screen.getByText("After"));
  });
});

describe("a choice", () => {
  it("shows its groups and what may not be chosen, and tells what was", async () => {
    const user = userEvent.setup();
    const told = vi.fn();
    render(
      <Choice
        label="Goes to"
        value="rules"
        onChange={told}
        options={[
          { value: "rules", label: "The rules" },
          { value: "p_mara", label: "Mara", group: "People" },
          { value: "p_noor", label: "Noor, away", group: "People", disabled: true },
        ]}
      />,
    );
    expect(screen.getByRole("group", { name: "People" }).children).toHaveLength(2);
    await user.selectOptions(screen.getByLabelText("Goes to"), "Mara");
    expect(told).toHaveBeenCalledExactlyOnceWith("p_mara");
    expect(screen.getByRole<HTMLOptionElement>("option", { name: "Noor, away" }).disabled).toBe(true);
  });
});
