import { canEverHold } from "../condition/ever.ts";
import type { Condition } from "../condition/tree.ts";
import { fieldType } from "../lead/fields.ts";
import type { RuleSet } from "../policy/routing.ts";
import type { Setup } from "../policy/setup.ts";
import { holes } from "../policy/week.ts";
import { reachesRule } from "../source/missing.ts";
import type { Span } from "../time/spans.ts";

/** Something about the rules or the people in them that somebody should know before it costs a lead. */
export type RuleWarning =
  /** No lead can come to this rule: proved, whatever leads say. `behind` is the rule that always comes first. */
  | { readonly kind: "never"; readonly ruleId: string; readonly behind: string | null }
  /** It hangs on texts or tags, so it can't be proved either way: a playback tells. */
  | { readonly kind: "unproved"; readonly ruleId: string }
  | { readonly kind: "empty"; readonly ruleId: string }
  | { readonly kind: "hole"; readonly groupId: string; readonly spans: readonly Span[] }
  | { readonly kind: "in-no-rule"; readonly personId: string }
  | { readonly kind: "no-rule"; readonly sourceId: string };

const WEEK = 7 * 86_400_000;

/** What the rules, and the people they name, lack. Holes are looked for over the week from `now` on (epoch ms). */
export function warningsOf(setup: Setup, set: RuleSet, now: number): RuleWarning[] {
  const under: Setup = { ...setup, policies: { ...setup.policies, ...set } };
  const rules = set.rules.filter((r) => !r.off);
  const used = new Set(rules.flatMap((r) => ("group" in r.to ? [r.to.group] : [])));
  const groups = setup.groups.filter((g) => used.has(g.id));
  const named = new Set([
    ...groups.flatMap((g) => g.members.filter((m) => m.weight > 0).map((m) => m.personId)),
    ...rules.flatMap((r) => ("person" in r.to ? [r.to.person] : [])),
  ]);
  return [
    ...neverFiring(setup, set),
    ...rules.flatMap((r): RuleWarning[] => {
      const group = "group" in r.to ? r.to.group : null;
      return group && !groups.some((g) => g.id === group && g.members.length > 0)
        ? [{ kind: "empty", ruleId: r.id }]
        : [];
    }),
    ...groups.flatMap((group): RuleWarning[] => {
      const spans = group.members.length > 0 ? holes(setup, group, now, now + WEEK) : [];
      return spans.length > 0 ? [{ kind: "hole", groupId: group.id, spans }] : [];
    }),
    ...setup.people
      .filter((p) => p.role === "salesperson" && !p.left && !named.has(p.id))
      .map((p): RuleWarning => ({ kind: "in-no-rule", personId: p.id })),
    ...setup.sources
      .filter((s) => s.state !== "draft" && !reachesRule(s, under))
      .map((s): RuleWarning => ({ kind: "no-rule", sourceId: s.id })),
  ];
}

/**
 * Rules no lead comes to because the rules before them always take it. A rule that hands on does not keep a lead
 * from those after it.
 */
export function neverFiring(setup: Setup, { rules }: RuleSet): RuleWarning[] {
  const typeOf = (field: Parameters<typeof fieldType>[0]) => fieldType(field, setup);
  const always: Condition = { all: [] };
  const before: { name: string; when: Condition }[] = [];
  const warnings: RuleWarning[] = [];
  for (const rule of rules) {
    if (rule.off) continue;
    const when = rule.when ?? always;
    const answer = canEverHold({ all: [when, { none: before.map((b) => b.when) }] }, typeOf);
    if (answer === "no") {
      const alone = before.find((b) => canEverHold({ all: [when, { none: [b.when] }] }, typeOf) === "no");
      warnings.push({ kind: "never", ruleId: rule.id, behind: alone?.name ?? null });
    } else if (answer === "maybe" && dependsOnOthers(when, before, typeOf)) {
      warnings.push({ kind: "unproved", ruleId: rule.id });
    }
    if (rule.otherwise !== "onward") before.push({ name: rule.name, when });
  }
  return warnings;
}

/** Whether it is the rules before that make it doubtful: a rule that stands alone is not warned about. */
function dependsOnOthers(
  when: Condition,
  before: readonly { readonly when: Condition }[],
  typeOf: Parameters<typeof canEverHold>[1],
): boolean {
  const fields = new Set(fieldsOf(when));
  return before.some((b) =>
    fieldsOf(b.when).some((f) => fields.has(f) && ["text", "phone", "choices"].includes(typeOf(f) ?? "")),
  );
}

function fieldsOf(condition: Condition): Parameters<typeof fieldType>[0][] {
  return "field" in condition
    ? [condition.field]
    : (Object.values(condition).flat() as Condition[]).flatMap(fieldsOf);
}
