import type { Policies } from "./setup.ts";
import { DEAL_REASONS, DEAL_STAGES, type EndKind, openStage } from "./stages.ts";

/** How a reason of before reasons had kinds most likely ended. */
const kindOf = (reason: string): EndKind =>
  /bought elsewhere|not interested|lost|price/i.test(reason) ? "lost" : "none";

/** Stages and reasons of when they were names alone. Others are given back as they are. */
export function asStages(policies: Policies): Policies {
  if (policies.reasons) return policies;
  const old = policies as unknown as {
    readonly stages: readonly string[];
    readonly closeReasons: readonly string[];
    readonly turns?: { readonly badReasons?: readonly string[] };
  };
  const bad = old.turns?.badReasons ?? [];
  const { closeReasons: names, ...rest } = policies as Policies & { closeReasons: readonly string[] };
  return {
    ...rest,
    stages: [...old.stages.map((name) => openStage(name, "lead")), ...DEAL_STAGES],
    reasons: [
      ...names.map((name) => ({
        key: name,
        name,
        kind: kindOf(name),
        of: "lead" as const,
        ...(bad.includes(name) && { turnBack: true }),
      })),
      ...DEAL_REASONS,
    ],
  };
}
