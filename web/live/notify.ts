import { ALERTS } from "../../core/policy/alerts.ts";
import type { AlertAbout } from "../../core/vocabulary.ts";
import type { Me } from "../wire/schemas.ts";

/** Whether this browser shows notifications: yes, no, or not asked yet. */
export function notifying(): "yes" | "no" | "ask" {
  if (!("Notification" in window)) return "no";
  if (Notification.permission === "granted") return "yes";
  return Notification.permission === "denied" ? "no" : "ask";
}

/** Show what this person was told of, where they want it from the browser; pressing it opens the lead, or what else it is about. */
export function notify(
  me: Me | undefined,
  leadId: string | null,
  told: readonly { readonly personId: string; readonly about: AlertAbout }[],
): void {
  if (!me || notifying() !== "yes") return;
  for (const { personId, about } of told) {
    if (personId !== me.id || !me.notify.includes(about)) continue;
    // One a lead and matter: a repeat takes the place of the one before.
    const note = new Notification("Kite Bell", { body: ALERTS[about], tag: `${leadId}:${about}` });
    note.onclick = () => {
      window.focus();
      location.assign(leadId ? `/?lead=${leadId}` : about === "list" ? "/leads" : "/setup/sources");
    };
  }
}
