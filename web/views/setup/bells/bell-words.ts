import { RUNGS } from "../../../../core/policy/bell-names.ts";
import { duration } from "../../../../core/time/words.ts";
import type { Rung, Target } from "../../../wire/bells-schemas.ts";

interface Named {
  readonly id: string;
  readonly name: string;
}

/** How long a target is, and by which clock: `5 min desk`. */
export function minutesSaid({ minutes, clock, zone }: Pick<Target, "minutes" | "clock" | "zone">): string {
  if (minutes === 0) return "at its time";
  const long = duration(minutes * 60_000);
  return `${long}${clock === "desk" ? " of desk time" : ""}${zone === "lead" ? ", where they are" : ""}`;
}

/** What a rung does, with whom or what it names. */
export function rungSaid(rung: Rung, groups: readonly Named[], plans: readonly Named[]): string {
  const name = (list: readonly Named[], id: string | undefined) => list.find((x) => x.id === id)?.name;
  switch (rung.act) {
    case "nudge":
      return `Nudge whoever has it${rung.ways ? ` by ${rung.ways.join(" and ")}` : ""}`;
    case "ring":
      return "The bell rings";
    case "manager":
      return "Tell the managers";
    case "next":
      return "Offer it to the next by the rules";
    case "group":
      return `Offer it to ${name(groups, rung.groupId) ?? "a group"}`;
    case "standby":
      return "Give it to standby";
    case "tag":
      return `Tag it “${rung.tag ?? ""}”`;
    case "list":
      return "Put it on the manager’s list";
    case "park":
      return `Park it${rung.planId ? `: ${name(plans, rung.planId) ?? ""}` : ""}`;
    default:
      return RUNGS[rung.act];
  }
}

/** When a rung is climbed, relative to the target: `at 60 %`, `as it rings`, `10 min later`. */
export function rungWhen({ fraction, plusMinutes }: Pick<Rung, "fraction" | "plusMinutes">): string {
  if (fraction < 1) return fraction === 0 ? "at once" : `at ${Math.round(fraction * 100)} %`;
  return plusMinutes === 0 ? "as it rings" : `${duration(plusMinutes * 60_000)} later`;
}
