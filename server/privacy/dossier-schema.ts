import { z } from "zod";

/** Everything that is known of a person, as programs read it: `person.json` in what is handed out. Times are ISO 8601. */

const time = z.iso.datetime();
const anything = z.record(z.string(), z.unknown());

export const Dossier = z.object({
  format: z.literal("kite-bell-person-1"),
  made: time,
  by: z.string().describe("The company that hands it out"),
  leads: z.array(
    z.object({
      id: z.string(),
      name: z.string().nullable(),
      emails: z.array(z.string()),
      phones: z.array(z.string()).describe("E.164"),
      company: z.string().nullable(),
      source: z.string(),
      came: time,
      stage: z.string(),
      closed: z.string().nullable(),
      known: anything.describe("All that is known of what they want and where they are"),
      silent: z.array(
        z
          .object({ way: z.string(), at: time, said: z.string() })
          .describe("A way they asked not to be reached by"),
      ),
      happened: z.array(
        z.object({
          at: time,
          what: z.string().describe("A kind of event"),
          said: z.string().describe("The same, in a sentence"),
          by: z.string().describe("Who did it: a person’s name, “they” or “the desk”"),
          data: anything,
          why: z
            .array(z.object({ of: z.string(), result: z.enum(["yes", "no"]), reason: z.string() }))
            .optional()
            .describe("How a decision about them came about, in the order it was thought through"),
        }),
      ),
    }),
  ),
  consents: z.array(
    z.object({
      at: time,
      source: z.string(),
      wording: z.string(),
      said: z.string().describe("What was sent for it"),
    }),
  ),
  contact: anything.nullable().describe("How they stand in the book of customers"),
  deals: z.array(anything),
  sent: z.array(
    z.object({
      at: time,
      way: z.string(),
      to: z.string(),
      from: z.string(),
      subject: z.string().nullable(),
      body: z.string(),
      state: z.string(),
      about: z.string().describe("What it was sent for"),
      file: z.string().nullable().describe("The mail as a file, where it was one"),
    }),
  ),
  arrived: z.array(
    z.object({ id: z.string(), at: time, source: z.string(), type: z.string(), file: z.string() }),
  ),
  calls: z.array(z.object({ at: time, from: z.string(), to: z.string(), notes: z.string() })),
  files: z.array(z.object({ name: z.string(), type: z.string(), bytes: z.number(), file: z.string() })),
});
export type Dossier = z.infer<typeof Dossier>;
