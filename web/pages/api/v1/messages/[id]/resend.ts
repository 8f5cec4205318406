import { endpoint, problem } from "../../../../../api/endpoint.ts";

export const POST = endpoint(null, ({ desk, params }) =>
  desk.outbox.resend(params.id ?? "")
    ? { queued: true }
    : problem(409, "Nothing to send again", "This message has not failed for good."),
);
