import { dateTime, zoneName } from "../time/words.ts";

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
  /** How many rang on the last day the desk was open, and how many of them nobody has tried since. */
  readonly rang: { readonly leads: number; readonly untried: number };
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
  /** The page on which what it says stands whole. */
  readonly page?: "/" | "/list" | "/setup/sources" | "/setup/people";
}

function rangLine({ leads: n, untried }: MorningFacts["rang"]): string {
  if (n === 0) return "Nothing rang.";
  const left =
    untried === 0 ? "all were tried after all" : `${untried} ${untried === 1 ? "is" : "are"} not tried yet`;
  return `${leads(n)} rang; ${left}.`;
}

const leads = (n: number) => `${n} ${n === 1 ? "lead" : "leads"}`;

/** Whether there is anything to tell: a summary of nothing is noise. */
export function isWorthTelling({ cameIn, waiting, rang }: MorningFacts): boolean {
  return cameIn.length > 0 || rang.leads > 0 || Object.values(waiting).some((n) => n > 0);
}

/** The morning summary, in short: what came overnight, what waits, what rang, who is away, what is silent. */
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
        `${waiting.answer} to answer, ${waiting.rung} rung, ${waiting.again} to try again, ${waiting.today} due today.`,
      ],
      page: waiting.rung > 0 ? "/list" : "/",
    },
    {
      heading: "Rang on the last day",
      lines: [rangLine(rang)],
      ...(rang.untried > 0 && { page: "/list" as const }),
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
      ...(away.some((a) => !a.cover) && { page: "/setup/people" as const }),
    },
  ];
  if (facts.quiet.length > 0)
    parts.push({
      heading: "Gone quiet",
      lines: facts.quiet.map((name) => `${name} sends nothing.`),
      page: "/setup/sources",
    });
  return parts;
}

/**
 * The summary as the body of a message; headings are starred where chat shows that as bold, and what stands whole
 * elsewhere is linked by `linkTo`.
 */
export function morningText(
  parts: readonly MorningPart[],
  starred: boolean,
  linkTo: (page: string) => string,
): string {
  return parts
    .map(({ heading, lines, page }) =>
      [
        starred ? `*${heading}*` : heading,
        ...[...lines, ...(page ? [linkTo(page)] : [])].map((l) => `${starred ? "" : "  "}${l}`),
      ].join("\n"),
    )
    .join("\n\n");
}
