import { isTheirs } from "../../../../core/access/access.ts";
import { ACCESS_CHANGED, BEGUN_AGAIN, type Change } from "../../../../server/live/feed.ts";
import { serve } from "../../../api/endpoint.ts";
import { type Caller, identify } from "../../../api/identify.ts";

/** How often a line is sent on a silent stream, so that nothing between cuts it (ms). */
const PULSE = 20_000;

/** Changes that concern one part of the desk; whatever else is about no lead may concern everything. */
const PARTS: ReadonlySet<string> = new Set([
  "import",
  "source",
  "quarantine",
  "ringing",
  "trouble",
  "calling",
  "roster",
  "setup",
  "playback",
  "rounds",
  "book",
  "hooks",
]);

/** By its kind: pages and server are built apart, each with constants of its own. */
const is = (change: Change, what: Change) => change.kinds[0] === what.kinds[0];

/** After these whoever listens must show again that they may: who somebody is, or what they may, has changed. */
const SHOW_AGAIN: readonly string[] = [...ACCESS_CHANGED.kinds, "setup"];

/**
 * Server-sent events: one per lead that changed. `Last-Event-ID` gets what was missed, or `reset` when that is much. It
 * ends with the session or key it was begun with.
 */
export const GET = serve("GET /live", ({ desk, me, context, query }) => {
  const { request, locals } = context;
  let caller: Caller = locals.caller!;
  const said = request.headers.get("last-event-id") ?? query.get("after");
  const encoder = new TextEncoder();
  let stop = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const write = (text: string) => controller.enqueue(encoder.encode(text));
      let ended = false;
      const end = () => {
        if (ended) return;
        ended = true;
        stop();
        controller.close();
      };
      const showAgain = async () => {
        const now = await identify(context).catch(() => caller);
        if (!now || now === "unknown-key" || now.me.id !== me.id) end();
        else caller = now;
      };
      const tell = (change: Change) => {
        if (is(change, BEGUN_AGAIN)) {
          write("event: begun-again\ndata: {}\n\n");
          return end();
        }
        if (change.kinds.some((kind) => SHOW_AGAIN.includes(kind))) void showAgain();
        if (is(change, ACCESS_CHANGED)) return;
        const { n, kinds, personId, told } = change;
        const lead = change.leadId === null ? null : desk.looker.lead(change.leadId);
        // Of what is not theirs a salesperson hears that something moved, and not what.
        const hidden = lead !== null && !caller.rights.has("leads.all") && !isTheirs(lead, me.id);
        const leadId = hidden ? null : change.leadId;
        const event = leadId ? "lead" : hidden || kinds.every((k) => PARTS.has(k)) ? "part" : "all";
        const data = JSON.stringify({
          leadId,
          kinds: hidden ? ["moved"] : kinds,
          now: desk.clock.now(),
          ...(personId && !hidden && { personId }),
          ...(told?.length && !hidden && { told }),
        });
        write(`${n > 0 ? `id: ${n}\n` : ""}event: ${event}\ndata: ${data}\n\n`);
      };
      const now = desk.reader.lastEvent();
      write(
        `retry: 1000\n${said ? "" : `id: ${now}\n`}event: hello\ndata: ${JSON.stringify({ now: desk.clock.now() })}\n\n`,
      );
      const missed = said ? desk.reader.changedSince(Number(said) || 0) : [];
      if (missed) for (const change of missed) tell(change);
      else write(`id: ${now}\nevent: reset\ndata: {}\n\n`);
      const silence = desk.feed.listen(tell);
      const pulse = setInterval(() => {
        write(": still here\n\n");
        void showAgain();
      }, PULSE);
      stop = () => {
        silence();
        clearInterval(pulse);
      };
      request.signal.addEventListener("abort", stop);
    },
    cancel: () => stop(),
  });
  return new Response(stream, {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
});
