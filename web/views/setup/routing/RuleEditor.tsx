import { useMemo, useState } from "react";
import { type CatalogueField, namesFrom } from "../../../../core/lead/fields.ts";
import { GROUP_WAYS } from "../../../../core/policy/people.ts";
import { ruleSentence } from "../../../../core/routing/sentence.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { RoutingSetup, Rule } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";
import styles from "./Routing.module.css";

interface Props {
  readonly rule: Rule;
  readonly data: RoutingSetup;
  readonly onKeep: (rule: Rule) => Promise<unknown>;
  readonly onClose: () => void;
}

type To = Rule["to"];

const targetKey = (to: To) =>
  "person" in to
    ? `person:${to.person}`
    : "group" in to
      ? `group:${to.group}`
      : "formerWithin" in to
        ? "former"
        : "credit";

/** One rule: what it fits, whom it offers to, how long each has, and what happens when it comes to nothing. */
export function RuleEditor({ rule, data, onKeep, onClose }: Props) {
  const editing = useEditing(`rule:${rule.id}`, rule);
  const { draft, put: setDraft } = editing;
  const [problem, setProblem] = useState<string | null>(null);
  const put = (part: Partial<Rule>) => setDraft({ ...draft, ...part });
  const names = useMemo(() => namesFrom(data.catalogue as CatalogueField[]), [data.catalogue]);
  const sentence = ruleSentence({ people: data.people, groups: data.groups, names }, draft);
  const keep = () => onKeep(draft).then(editing.done, (error: Error) => setProblem(error.message));
  return (
    <Dialog title={rule.name} as="wide" onClose={onClose}>
      <form
        className={styles.wide}
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <Field label="Name" value={draft.name} onChange={(e) => put({ name: e.target.value })} />
        <h3>When</h3>
        <ConditionEditor
          condition={draft.when}
          catalogue={data.catalogue}
          onChange={(when) => put({ when })}
        />
        <h3>Offer to</h3>
        <WhoGetsIt to={draft.to} data={data} onChange={(to) => put({ to })} />
        <div className={setup.row}>
          <Field
            label="Minutes each has to take it"
            type="number"
            min={1}
            value={draft.offerMinutes}
            onChange={(e) => put({ offerMinutes: Number(e.target.value) })}
          />
          <Choice
            label="Counted"
            value={draft.clock ?? "desk"}
            options={[
              { value: "desk", label: "while the desk is open" },
              { value: "wall", label: "at any hour" },
            ]}
            onChange={(clock) => put({ clock: clock as "desk" | "wall" })}
          />
          <Choice
            label="When nobody takes it"
            value={draft.otherwise ?? "standby"}
            options={[
              { value: "standby", label: "whoever is on standby" },
              { value: "list", label: "the manager’s list" },
              { value: "onward", label: "ask the next rules" },
            ]}
            onChange={(otherwise) => put({ otherwise: otherwise as NonNullable<Rule["otherwise"]> })}
          />
        </div>
        <label className={setup.check}>
          <input type="checkbox" checked={!draft.off} onChange={(e) => put({ off: !e.target.checked })} />
          Switched on
        </label>
        <p className={styles.sentence}>{sentence}</p>
        {problem && <p className={setup.wrong}>{problem}</p>}
        <p className={setup.row}>
          <Button type="submit" look="strong">
            Keep in the draft
          </Button>
          <Button
            look="bare"
            onClick={() => {
              editing.leave();
              onClose();
            }}
          >
            Discard changes
          </Button>
        </p>
      </form>
    </Dialog>
  );
}

interface TargetProps {
  readonly to: To;
  readonly data: RoutingSetup;
  readonly onChange: (to: To) => void;
}

function WhoGetsIt({ to, data, onChange }: TargetProps) {
  const choose = (key: string) => {
    const [kind, id = ""] = key.split(":");
    if (kind === "person") onChange({ person: id });
    else if (kind === "group") onChange({ group: id });
    else if (kind === "former") onChange({ formerWithin: 90 });
    else onChange({ credit: true });
  };
  const group = "group" in to ? data.groups.find((g) => g.id === to.group) : undefined;
  return (
    <div className={setup.row}>
      <Choice
        label="Whom"
        value={targetKey(to)}
        options={[
          ...data.groups.map((g) => ({ value: `group:${g.id}`, label: g.name, group: "Groups" })),
          { value: "former", label: "whoever had it last", group: "By its past" },
          { value: "credit", label: "whoever has the credit", group: "By its past" },
          ...data.people.map((p) => ({ value: `person:${p.id}`, label: p.name, group: "People" })),
        ]}
        onChange={choose}
      />
      {"group" in to && group && (
        <Choice
          label="Asked by"
          value={to.way ?? ""}
          options={[
            { value: "", label: `the group’s own way, ${GROUP_WAYS[group.way]}` },
            ...Object.entries(GROUP_WAYS).map(([value, label]) => ({ value, label })),
          ]}
          onChange={(way) =>
            onChange(way ? { group: to.group, way: way as keyof typeof GROUP_WAYS } : { group: to.group })
          }
        />
      )}
      {"formerWithin" in to && (
        <Field
          label="No longer ago than, days"
          type="number"
          min={1}
          value={to.formerWithin}
          onChange={(e) => onChange({ formerWithin: Number(e.target.value) })}
        />
      )}
    </div>
  );
}
