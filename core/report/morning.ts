import { dateTime, duration, zoneName } from "../time/words.ts";

/** What a morning summary is told from. Times are epoch ms. */
export interface MorningFacts {
  readonly zone: string;
  readonly now: number;
  /** Since when "overnight" counts: the last closing. */
  readonly since: number;
  readonly cameIn: readonly { readonly source: string; readonly count: number }[];
  readonly waiting: {
    readonly answer: number;
    readonly rung: number;
    readonly again: number;
    readonly today: number;
  };
  /** The most pressing of those that wait. */
  readonly first: readonly { readonly name: string; readonly why: string }[];
  /** What rang on the last day the desk was open. */
  readonly rang: readonly {
    readonly name: string;
    readonly at: number;
    /** Who it was with as it rang. */
    readonly whose: string;
    /** When it was answered after all; null when it was not. */
    readonly answeredAt: number | null;
  }[];
  readonly away: readonly {
    readonly name: string;
    readonly until: number;
    readonly reason: string;
    readonly cover: string | null;
  }[];
  readonly quiet: readonly string[];
}

export interface MorningPart {
  readonly heading: string;
  readonly lines: readonly string[];
}

/** So many that rang are named: those not tried yet first, then those that waited longest. */
const NAMED = 5;

function rangLines(rang: MorningFacts["rang"], when: (at: number) => string): string[] {
  const late = (r: MorningFacts["rang"][number]) =>
    r.answeredAt === null ? Number.POSITIVE_INFINITY : r.answeredAt - r.at;
  const worst = [...rang].sort((a, b) => late(b) - late(a));
  const left = rang.filter((r) => r.answeredAt === null).length;
  return [
    `${leads(rang.length)} rang; ${left === 0 ? "all were tried after all" : `${left} ${left === 1 ? "is" : "are"} not tried yet`}.`,
    ...worst
      .slice(0, NAMED)
      .map(
        (r) =>
          `${r.name}, ${when(r.at)}, with ${r.whose}: ${r.answeredAt === null ? "not tried yet" : `tried ${duration(late(r))} later`}`,
      ),
  ];
}

const leads = (n: number) => `${n} ${n === 1 ? "lead" : "leads"}`;

/** Whether there is anything to tell: a summary of nothing is noise. */
export function isWorthTelling({ cameIn, waiting, rang }: MorningFacts): boolean {
  return cameIn.length > 0 || rang.length > 0 || Object.values(waiting).some((n) => n > 0);
}

/** The morning summary, part by part: what came overnight, what waits, what rang, who is away. */
export function morningParts(facts: MorningFacts): readonly MorningPart[] {
  const { zone, now, cameIn, waiting, rang, away } = facts;
  const when = (at: number) => dateTime(at, zone, now);
  const total = cameIn.reduce((sum, { count }) => sum + count, 0);
  const parts: MorningPart[] = [
    {
      heading: `Since ${when(facts.since)} (${zoneName(now, zone)})`,
      lines: total
        ? [
            `${total} ${total === 1 ? "inquiry" : "inquiries"} came in: ${cameIn.map((c) => `${c.source} ${c.count}`).join(", ")}.`,
          ]
        : ["Nothing came in."],
    },
    {
      heading: "Waiting now",
      lines: [
        `${leads(waiting.answer)} to answer, ${waiting.rung} rung or on the list, ${waiting.again} to try again, ${waiting.today} due today.`,
        ...facts.first.map(({ name, why }) => `${name}: ${why}`),
      ],
    },
    {
      heading: "Rang on the last day",
      lines: rang.length === 0 ? ["Nothing rang."] : rangLines(rang, when),
    },
    {
      heading: "Away",
      lines:
        away.length === 0
          ? ["Nobody is away."]
          : away.map(
              ({ name, until, reason, cover }) =>
                `${name} until ${when(until)} (${reason}): ${cover ? `${cover} covers` : "nobody covers"}`,
            ),
    },
  ];
  if (facts.quiet.length > 0)
    parts.push({ heading: "Gone quiet", lines: facts.quiet.map((name) => `${name} sends nothing.`) });
  return parts;
}

/** The summary as the body of a message; headings are starred where chat shows that as bold. */
export function morningText(parts: readonly MorningPart[], starred: boolean): string {
  return parts
    .map(({ heading, lines }) =>
      [starred ? `*${heading}*` : heading, ...lines.map((l) => `${starred ? "" : "  "}${l}`)].join("\n"),
    )
    .join("\n\n");
}
