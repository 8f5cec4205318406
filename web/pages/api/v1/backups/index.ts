import { toBackups } from "../../../../api/backups.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";

export const GET = serve("GET /backups", ({ desk }) => toBackups(desk));

export const POST = serve("POST /backups", ({ desk, me, body: { passphrase, ...backups } }) => {
  const changed = desk.office.change(me.id, (setup) => ({
    ok: true,
    setup: { ...setup, policies: { ...setup.policies, backups } },
  }));
  if (!changed.ok) return refusal(changed.problem);
  if (passphrase !== undefined) {
    desk.backups.seal(passphrase);
    desk.office.audit(
      me.id,
      passphrase === null ? "took the seal off backups" : "sealed backups by a passphrase",
    );
  }
  return toBackups(desk);
});
