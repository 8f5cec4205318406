import { problem, serve } from "../../../../api/endpoint.ts";
import { toPlayback } from "../../../../wire/shape-routing.ts";

const DAY = 86_400_000;

/** Play the draft or a version of the rules over what really came in. */
export const POST = serve("POST /playbacks", ({ desk, body }) => {
  const { draft } = desk.setup.policies.routing;
  const set = body.of === "draft" ? draft : desk.office.versions().find((v) => v.version === body.of);
  if (!set)
    return problem(
      "nothing-to-play",
      404,
      "Nothing to play",
      body.of === "draft" ? "There is no draft." : `There is no version ${body.of}.`,
    );
  const to = body.to ? Date.parse(body.to) : desk.clock.now();
  const from = body.from ? Date.parse(body.from) : to - body.days * DAY;
  if (!(from < to))
    return problem("the-wrong-way-round", 422, "The wrong way round", "`to` must come after `from`.", [
      { path: "to", message: "Choose a later day." },
    ]);
  const { rules, setAside } = set;
  const of = body.of === "draft" ? "The draft" : `Version ${body.of}`;
  const run = desk.playbacks.start(of, { rules: { rules, setAside }, from, to, roster: body.roster });
  if (!run)
    return problem(
      "two-run-already",
      409,
      "Two run already",
      "Wait until one of them is done, or cancel it.",
    );
  return toPlayback(desk.setup, run);
});
