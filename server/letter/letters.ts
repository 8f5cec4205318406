import { ROLES } from "../../core/access/access.ts";
import { letterHtml, letterText } from "../../core/message/letter.ts";
import { FIGURES_LETTER } from "../../core/message/outgoing.ts";
import { type LetterPartKey, type LetterPolicy, readersOf } from "../../core/policy/letter.ts";
import type { Person } from "../../core/policy/people.ts";
import { daysOf, letterMarkdown, letterParts } from "../../core/report/letter/letter.ts";
import { nextWeekly } from "../../core/time/weekly.ts";
import { localDate } from "../../core/time/words.ts";
import type { Engine } from "../engine/engine.ts";
import type { Figures } from "../figures/figures.ts";
import { Recurring } from "../timers/recurring.ts";

/** How often the clock is looked at (ms). */
const NAP = 2_000;
/** Under which name it is kept when the next letter is due (epoch ms). */
const DUE = "letter-due";

/** A letter as it was written: its words, and a picture for each part that has a chart. */
interface Written {
  readonly subject: string;
  readonly pictures: ReadonlyMap<LetterPartKey, Buffer>;
  /** Its words, with the addresses given to its pictures. */
  markdown(picture: (key: LetterPartKey) => string | null): string;
}

/** The weekly letter of figures: written from the record and sent at its time, whatever is restarted when. */
export class Letters extends Recurring {
  readonly #desk: Engine;
  readonly #figures: Figures;
  #policy: LetterPolicy;
  #zone: string;

  constructor(desk: Engine, figures: Figures) {
    super(desk, NAP);
    this.#desk = desk;
    this.#figures = figures;
    const { letter, desk: hours } = desk.setup.policies;
    this.#policy = letter;
    this.#zone = hours.zone;
    const due = desk.kept.counter(DUE);
    if (!letter.on || due === null) this.plan();
    else this.nextDue = due;
    desk.onSetup({
      after: () => {
        const { letter: now, desk: open } = desk.setup.policies;
        const isSame =
          now.on === this.#policy.on &&
          now.weekday === this.#policy.weekday &&
          now.time === this.#policy.time &&
          open.zone === this.#zone;
        this.#policy = now;
        this.#zone = open.zone;
        if (!isSame) this.plan();
      },
    });
  }

  /** Find out when the next letter is due, from now on. */
  plan(): void {
    const { kept, clock } = this.#desk;
    if (!this.#policy.on) {
      this.nextDue = Number.POSITIVE_INFINITY;
      return;
    }
    this.nextDue = nextWeekly(this.#policy, this.#zone, clock.now());
    kept.setCounter(DUE, this.nextDue);
  }

  /** It is its time: write the letter and send it. What was missed while the desk was off is sent once. Rejects where figures can't be told. */
  async run(): Promise<void> {
    const day = localDate(this.#desk.clock.now(), this.#zone);
    const { parts } = this.#policy;
    const written = parts.length > 0 ? await this.#write(parts) : null;
    this.#desk.sql.transaction(() => {
      if (written && this.#policy.on)
        this.#queue(written, readersOf(this.#policy, this.#desk.setup.people), day);
      this.plan();
    });
    this.#desk.outbox.kick();
  }

  /** Send one with these parts now. Gives to how many. Rejects where figures can't be told. */
  async send(parts: readonly LetterPartKey[], to: readonly Person[]): Promise<number> {
    const written = await this.#write(parts);
    const sent = this.#desk.sql.transaction(() => this.#queue(written, to, this.#desk.newId("now")));
    this.#desk.outbox.kick();
    return sent;
  }

  /** A letter as it would look, its pictures in it. Rejects where figures can't be told. */
  async preview(parts: readonly LetterPartKey[]): Promise<{ subject: string; html: string; text: string }> {
    const written = await this.#write(parts);
    const { company } = this.#desk.setup.policies;
    const picture = (key: LetterPartKey) => {
      const png = written.pictures.get(key);
      return png ? `data:image/png;base64,${png.toString("base64")}` : null;
    };
    const letter = {
      company: company.name,
      body: written.markdown(picture),
      unsubscribeUrl: null,
      because: null,
      isDrawn: true,
    };
    return { subject: written.subject, html: letterHtml(letter), text: letterText(letter) };
  }

  async #write(chosen: readonly LetterPartKey[]): Promise<Written> {
    const { clock, links } = this.#desk;
    const figures = this.#figures;
    const days = daysOf(clock.now(), this.#zone);
    const parts = await letterParts(
      chosen,
      {
        response: (asked) => figures.ask("response", asked),
        effort: (asked) => figures.ask("effort", asked),
        sources: (asked) => figures.ask("sources", asked),
        people: (asked) => figures.ask("people", asked),
        staffing: (asked) => figures.ask("staffing", asked),
      },
      days,
    );
    const charts = parts.flatMap(({ key, chart }) => (chart ? [{ key, chart }] : []));
    // Only when it is needed: what draws is large, and most desks draw once a week.
    const { drawCharts } = await import("./draw.ts");
    const drawn = await drawCharts(charts.map((c) => c.chart));
    const pictures = new Map(charts.map(({ key }, i) => [key, drawn[i]!]));
    return {
      subject: `The lead desk, ${days.said}`,
      pictures,
      markdown: (picture) =>
        letterMarkdown(parts, `The lead desk, ${days.said}`, picture, (page) => links.page(page)),
    };
  }

  /** Call it inside a transaction. */
  #queue({ subject, pictures, markdown }: Written, to: readonly Person[], key: string): number {
    const { files } = this.#desk;
    const kept = new Map(
      [...pictures].map(([part, png]) => [part, files.keep(png, `${part}.png`, "image/png")]),
    );
    const body = markdown((part) => {
      const file = kept.get(part);
      return file ? `cid:${file.fileId}` : null;
    });
    // Somebody who may see figures no more gets none, whatever was chosen when.
    const readers = to.filter((p) => ROLES[p.role].includes("figures"));
    for (const person of readers)
      this.#desk.queueNotice({
        channel: "email",
        to: person.email,
        personId: person.id,
        key: `letter:${key}:${person.id}`,
        subject,
        body,
        purpose: FIGURES_LETTER,
        attachments: [...kept.values()],
      });
    return readers.length;
  }
}
