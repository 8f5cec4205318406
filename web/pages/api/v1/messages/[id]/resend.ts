import { problem, serve } from "../../../../../api/endpoint.ts";

/** Put a message that failed for good back in line. */
export const POST = serve("POST /messages/[id]/resend", ({ desk, params }) => {
  switch (desk.outbox.resend(params.id ?? "")) {
    case "queued":
      return { queued: true };
    case "unknown":
      return problem("no-such-message", 404, "No such message", "There is no message with that id.");
    case "not-failed":
      return problem(
        "nothing-to-send-again",
        409,
        "Nothing to send again",
        "This message has not failed for good.",
      );
  }
});
