import { problem, serve } from "../../../../api/endpoint.ts";
import { iso } from "../../../../wire/shape.ts";

export const GET = serve("GET /rehearsal/clock", ({ rehearsal }) => ({ now: iso(rehearsal.now()) }));

export const POST = serve("POST /rehearsal/clock", async ({ rehearsal, body }) => {
  const moved = await ("to" in body
    ? rehearsal.moveTo(Date.parse(body.to))
    : rehearsal.moveBy(length(body.advance)));
  if ("problem" in moved)
    return problem("the-clock-was-not-moved", 422, "The clock was not moved", moved.problem, [
      { path: "to", message: moved.problem },
    ]);
  return { now: iso(moved.now), timersRun: moved.timersRun };
});

/** An ISO 8601 duration of days and smaller in ms; the schema has checked its form. */
function length(duration: string): number {
  const [, d = 0, h = 0, m = 0, s = 0] = /^P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:([\d.]+)S)?)?$/.exec(
    duration,
  )!;
  return (((Number(d) * 24 + Number(h)) * 60 + Number(m)) * 60 + Number(s)) * 1000;
}
