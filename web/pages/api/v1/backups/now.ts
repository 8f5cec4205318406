import { toBackups } from "../../../../api/backups.ts";
import { serve } from "../../../../api/endpoint.ts";

export const POST = serve("POST /backups/now", ({ desk, me }) => {
  desk.office.audit(me.id, "had the desk backed up");
  void desk.backups.now();
  return toBackups(desk);
});
