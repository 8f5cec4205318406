/** How the lead's phone takes a call. */
export type Takes = "answer" | "voicemail" | "no-answer" | "busy";

interface Line {
  readonly id: string;
  readonly us: string;
  readonly them: string;
  state: "ringing-them" | "talking";
  talkedFrom: number | null;
  timer: NodeJS.Timeout | null;
}

/** Reports to the desk how a call goes on. */
export type Report = (report: Record<string, unknown>) => Promise<void>;

/** How long their phone rings before it is let be (ms of real time). */
const RINGS = 25_000;

/**
 * The carrier's phones: whoever is called from the desk picks up at once; the lead's phone rings until somebody plays
 * what happens. What is reported goes one after the other, as a carrier's reports do.
 */
export class Phones {
  readonly #lines = new Map<string, Line>();
  readonly #now: () => number;
  #report: Report | null = null;
  #saying: Promise<unknown> = Promise.resolve();

  /** `now` is the time calls are measured by. */
  constructor(now: () => number) {
    this.#now = now;
  }

  /** Whom to tell of calls. */
  reportTo(report: Report): void {
    this.#report = report;
  }

  /** Calls on the line now. */
  list(): readonly Pick<Line, "id" | "us" | "them" | "state">[] {
    return [...this.#lines.values()].map(({ id, us, them, state }) => ({ id, us, them, state }));
  }

  place(id: string, us: string, them: string): void {
    const line: Line = { id, us, them, state: "ringing-them", talkedFrom: null, timer: null };
    line.timer = setTimeout(() => void this.take(id, "no-answer"), RINGS);
    line.timer.unref();
    this.#lines.set(id, line);
    void this.#say({ call_id: id, state: "ringing-them" });
  }

  /** The lead's phone does something. False when it does not ring. */
  async take(id: string, how: Takes): Promise<boolean> {
    const line = this.#lines.get(id);
    if (line?.state !== "ringing-them") return false;
    if (line.timer) clearTimeout(line.timer);
    if (how === "answer") {
      line.state = "talking";
      line.talkedFrom = this.#now();
      await this.#say({ call_id: id, state: "talking" });
      return true;
    }
    this.#lines.delete(id);
    await this.#say({ call_id: id, state: "ended", result: how, seconds: 0 });
    return true;
  }

  /** Either side hangs up. */
  async hangUp(id: string, recording: (seconds: number) => string): Promise<boolean> {
    const line = this.#lines.get(id);
    if (!line) return false;
    if (line.timer) clearTimeout(line.timer);
    this.#lines.delete(id);
    if (line.talkedFrom === null) {
      await this.#say({ call_id: id, state: "ended", result: "no-answer", seconds: 0 });
      return true;
    }
    const seconds = Math.round((this.#now() - line.talkedFrom) / 1000);
    await this.#say({
      call_id: id,
      state: "ended",
      result: "talked",
      seconds,
      recording_url: recording(seconds),
    });
    return true;
  }

  close(): void {
    for (const { timer } of this.#lines.values()) if (timer) clearTimeout(timer);
    this.#lines.clear();
  }

  #say(report: Record<string, unknown>): Promise<unknown> {
    const said = this.#saying.then(() => this.#report?.({ direction: "out", ...report }));
    this.#saying = said.catch(() => {});
    return this.#saying;
  }
}
