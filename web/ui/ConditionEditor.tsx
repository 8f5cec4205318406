import type { Operator, Test } from "../../core/condition/condition.ts";
import { OPERATOR_WORDS } from "../../core/condition/operators.ts";
import type { Condition } from "../../core/condition/tree.ts";
import type { RoutingSetup } from "../wire/routing-schemas.ts";
import { Button } from "./Button.tsx";
import { Choice } from "./Choice.tsx";
import styles from "./ConditionEditor.module.css";
import { Field } from "./Field.tsx";

type Catalogue = RoutingSetup["catalogue"];
type Group = Exclude<Condition, Test>;
type Kind = "all" | "any" | "none";

interface Props {
  readonly condition: Condition | null;
  readonly catalogue: Catalogue;
  readonly onChange: (condition: Condition | null) => void;
}

const KINDS = [
  { value: "all", label: "all of these hold" },
  { value: "any", label: "any of these holds" },
  { value: "none", label: "none of these holds" },
];

const kindOf = (group: Group): Kind => Object.keys(group)[0] as Kind;
const partsOf = (group: Group): readonly Condition[] => Object.values(group)[0] as readonly Condition[];
const groupOf = (kind: Kind, parts: readonly Condition[]) => ({ [kind]: parts }) as unknown as Group;

function freshTest(catalogue: Catalogue): Test {
  const field = catalogue.find((f) => f.key === "product") ?? catalogue[0]!;
  return testOf(field, field.operators[0] as Operator);
}

/** A question about a field, with something sensible to compare with. */
function testOf(field: Catalogue[number], is: Operator): Test {
  const first = field.choices[0]?.value ?? "";
  const value =
    is === "one-of" ? [first] : is === "between" ? ["08:00", "12:00"] : field.type === "number" ? 1 : first;
  const bare = { field: field.key as Test["field"], is };
  return is === "known" || is === "unknown" ? bare : { ...bare, value };
}

/** A tree of questions of any depth: added, nested, changed and taken away where they stand. */
export function ConditionEditor({ condition, catalogue, onChange }: Props) {
  if (!condition)
    return (
      <p className={styles.none}>
        Fits every lead.{" "}
        <Button onClick={() => onChange({ all: [freshTest(catalogue)] })}>Only when …</Button>
      </p>
    );
  const root: Group = "field" in condition ? { all: [condition] } : condition;
  return (
    <GroupEditor
      group={root}
      catalogue={catalogue}
      label="When"
      onChange={(group) => onChange(partsOf(group).length > 0 ? group : null)}
      onRemove={() => onChange(null)}
    />
  );
}

interface GroupProps {
  readonly group: Group;
  readonly catalogue: Catalogue;
  readonly label: string;
  readonly onChange: (group: Group) => void;
  readonly onRemove: () => void;
}

function GroupEditor({ group, catalogue, label, onChange, onRemove }: GroupProps) {
  const kind = kindOf(group);
  const parts = partsOf(group);
  const put = (next: readonly Condition[]) => onChange(groupOf(kind, next));
  return (
    <fieldset className={styles.group}>
      <legend className={styles.legend}>
        <Choice
          label={label}
          quiet
          value={kind}
          options={KINDS}
          onChange={(next) => onChange(groupOf(next as Kind, parts))}
        />
      </legend>
      {parts.map((part, i) => {
        const set = (next: Condition) => put(parts.map((p, j) => (i === j ? next : p)));
        const remove = () => put(parts.filter((_, j) => i !== j));
        return "field" in part ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: a question has nothing but its place to be told by
          <TestEditor key={i} test={part} catalogue={catalogue} onChange={set} onRemove={remove} />
        ) : (
          <GroupEditor
            // biome-ignore lint/suspicious/noArrayIndexKey: as above
            key={i}
            group={part}
            catalogue={catalogue}
            label="And"
            onChange={set}
            onRemove={remove}
          />
        );
      })}
      <p className={styles.adds}>
        <Button onClick={() => put([...parts, freshTest(catalogue)])}>Add a condition</Button>
        <Button
          look="bare"
          onClick={() => put([...parts, groupOf(kind === "any" ? "all" : "any", [freshTest(catalogue)])])}
        >
          Add a group
        </Button>
        <Button look="bare" onClick={onRemove}>
          Remove all
        </Button>
      </p>
    </fieldset>
  );
}

interface TestProps {
  readonly test: Test;
  readonly catalogue: Catalogue;
  readonly onChange: (test: Test) => void;
  readonly onRemove: () => void;
}

function TestEditor({ test, catalogue, onChange, onRemove }: TestProps) {
  const field = catalogue.find((f) => f.key === test.field);
  const groupFor = (key: string) =>
    key.startsWith("own.")
      ? "Your own fields"
      : key.startsWith("answer.")
        ? "Answers to questions"
        : "Every lead";
  return (
    <div className={styles.test}>
      <Choice
        label="Field"
        quiet
        value={test.field}
        options={[
          ...(field ? [] : [{ value: test.field, label: `${test.field} (gone)` }]),
          ...catalogue.map((f) => ({
            value: f.key,
            label: f.name,
            group: groupFor(f.key),
          })),
        ]}
        onChange={(key) => {
          const next = catalogue.find((f) => f.key === key)!;
          onChange(testOf(next, next.operators[0] as Operator));
        }}
      />
      <Choice
        label="Question"
        quiet
        value={test.is}
        options={(field?.operators ?? [test.is]).map((is) => ({
          value: is,
          label: OPERATOR_WORDS[is as Operator],
        }))}
        onChange={(is) => {
          if (!field) return;
          const fresh = testOf(field, is as Operator);
          // What was compared with stays where it still can be.
          const keeps =
            typeof test.value === typeof fresh.value &&
            Array.isArray(test.value) === Array.isArray(fresh.value);
          onChange(keeps && fresh.value !== undefined ? { ...fresh, value: test.value } : fresh);
        }}
      />
      {test.is !== "known" && test.is !== "unknown" && (
        <ValueEditor test={test} field={field} onChange={onChange} />
      )}
      <Button
        look="bare"
        aria-label={`Remove the question about ${field?.name ?? test.field}`}
        onClick={onRemove}
      >
        Remove
      </Button>
    </div>
  );
}

interface ValueProps {
  readonly test: Test;
  readonly field: Catalogue[number] | undefined;
  readonly onChange: (test: Test) => void;
}

function ValueEditor({ test, field, onChange }: ValueProps) {
  const list = Array.isArray(test.value) ? (test.value as readonly string[]) : [String(test.value ?? "")];
  if (test.is === "between")
    return (
      <span className={styles.two}>
        {["From", "To"].map((label, i) => (
          <Field
            key={label}
            label={label}
            quiet
            type="time"
            value={list[i] ?? ""}
            onChange={(e) => onChange({ ...test, value: list.map((v, j) => (i === j ? e.target.value : v)) })}
          />
        ))}
      </span>
    );
  if (test.is === "one-of" && field && field.choices.length > 0)
    return (
      <span className={styles.many}>
        {field.choices.map(({ value, label }) => (
          <label key={value}>
            <input
              type="checkbox"
              checked={list.includes(value)}
              onChange={(e) =>
                onChange({
                  ...test,
                  value: e.target.checked ? [...list, value] : list.filter((v) => v !== value),
                })
              }
            />
            {label}
          </label>
        ))}
      </span>
    );
  if (field && field.choices.length > 0)
    return (
      <Choice
        label="Value"
        quiet
        value={list[0] ?? ""}
        options={field.choices.map(({ value, label }) => ({ value, label }))}
        onChange={(value) => onChange({ ...test, value })}
      />
    );
  const number = field?.type === "number";
  return (
    <Field
      label="Value"
      quiet
      type={field?.type === "date" ? "date" : number ? "number" : "text"}
      value={list[0] ?? ""}
      onChange={(e) =>
        onChange({
          ...test,
          value: number && e.target.value !== "" ? Number(e.target.value) : e.target.value,
        })
      }
    />
  );
}
