import { toBackups } from "../../../../api/backups.ts";
import { problem, refusal, serve } from "../../../../api/endpoint.ts";

export const GET = serve("GET /backups", ({ desk }) => toBackups(desk));

export const POST = serve("POST /backups", async ({ desk, me, body }) => {
  const { passphrase, away: asked, ...backups } = body;
  if (passphrase === null && (asked === undefined ? desk.backups.away : asked))
    return problem(
      "copied-away",
      409,
      "They are copied away",
      "Copies in a bucket must be sealed. End the copying first, then take the seal off.",
    );
  if (asked) {
    // Nothing is kept that does not work.
    const wrong = await desk.backups.tryAway(asked, asked.secret || null);
    if (wrong !== null)
      return problem("cant-be-copied-there", 422, "Can't be copied there", wrong, [
        { path: "away", message: wrong },
      ]);
  }
  const changed = desk.office.change(me.id, (setup) => {
    const before = setup.policies.backups.away ?? null;
    const away = asked ? { url: asked.url, region: asked.region, keyId: asked.keyId } : asked;
    return {
      ok: true,
      setup: {
        ...setup,
        policies: { ...setup.policies, backups: { ...backups, away: away === undefined ? before : away } },
      },
    };
  });
  if (!changed.ok) return refusal(changed.problem);
  if (asked !== undefined)
    desk.office.audit(
      me.id,
      asked === null ? "ended copying backups away" : `has backups copied to ${asked.url}`,
    );
  if (asked === null) desk.backups.forgetAway();
  if (asked?.secret) desk.backups.keepAway(asked.secret);
  if (passphrase !== undefined) {
    desk.backups.seal(passphrase);
    desk.office.audit(
      me.id,
      passphrase === null ? "took the seal off backups" : "sealed backups by a passphrase",
    );
  }
  return toBackups(desk);
});
