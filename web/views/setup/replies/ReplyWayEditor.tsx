import { inWords } from "../../../../core/condition/condition.ts";
import type { Condition } from "../../../../core/condition/tree.ts";
import { valueNames } from "../../../../core/policy/setup.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice, type Option } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { RepliesSetup, ReplyWay } from "../../../wire/answering-schemas.ts";
import styles from "../Setup.module.css";

interface Props {
  readonly channel: "email" | "text";
  readonly way: ReplyWay;
  readonly setup: RepliesSetup;
  readonly onChange: (way: ReplyWay) => void;
}

/** Delays as people say them; the last one opens a field. */
const DELAYS: readonly (readonly [number, string])[] = [
  [0, "at once"],
  [5, "after 5 minutes"],
  [15, "after 15 minutes"],
  [60, "after an hour"],
  [1_440, "after a day"],
  [4_320, "after 3 days"],
];

/** How a reply goes out by one channel: whether, which template for whom, when, and from where. */
export function ReplyWayEditor({ channel, way, setup, onChange }: Props) {
  const put = (change: Partial<ReplyWay>) => onChange({ ...way, ...change });
  const templates = setup.templates.filter((t) => t.channel === channel);
  const name = channel === "email" ? "email" : "text";
  const lines = setup.sources.filter((s) => s.line && s.channel === channel);
  const usual = DELAYS.some(([minutes]) => minutes === way.delayMinutes);
  return (
    <section aria-label={`By ${name}`}>
      <h2>By {name}</h2>
      <label className={styles.check}>
        <input type="checkbox" checked={way.on} onChange={(e) => put({ on: e.target.checked })} />
        {way.on ? `A reply goes out by ${name}` : `No reply goes out by ${name}`}
      </label>
      {way.on && (
        <>
          <Choices way={way} setup={setup} templates={templates} onChange={(choices) => put({ choices })} />
          <div className={styles.fields}>
            <Choice
              label="It goes"
              value={usual ? String(way.delayMinutes) : "own"}
              options={[
                ...DELAYS.map(([minutes, said]) => ({ value: String(minutes), label: said })),
                { value: "own", label: "after …" },
              ]}
              onChange={(v) => put({ delayMinutes: v === "own" ? 30 : Number(v) })}
            />
            {!usual && (
              <Field
                label="Minutes after the inquiry"
                type="number"
                min={0}
                value={way.delayMinutes}
                onChange={(e) => put({ delayMinutes: Number(e.target.value) })}
              />
            )}
            <Choice
              label="At what hours"
              value={way.hours}
              options={[
                { value: "any", label: "at any hour" },
                { value: "allowed", label: `${setup.allowed.from} to ${setup.allowed.to}, their time` },
              ]}
              onChange={(v) => put({ hours: v === "any" ? "any" : "allowed" })}
            />
            <Choice
              label="From"
              value={way.from ?? ""}
              options={[
                { value: "", label: "the source’s own line, else ours" },
                ...lines.map((s) => ({ value: s.line ?? "", label: `${s.line}, ${s.name}` })),
              ]}
              onChange={(v) => put({ from: v || null })}
            />
          </div>
        </>
      )}
    </section>
  );
}

interface ChoicesProps {
  readonly way: ReplyWay;
  readonly setup: RepliesSetup;
  readonly templates: RepliesSetup["templates"];
  readonly onChange: (choices: ReplyWay["choices"]) => void;
}

/** A condition as one entry of a list: nothing, a product or a language; any other is kept as it is. */
function keyOf(when: Condition | null): string {
  if (!when) return "always";
  if ("field" in when && when.is === "equal" && (when.field === "product" || when.field === "language"))
    return `${when.field}:${when.value}`;
  return "other";
}

function Choices({ way, setup, templates, onChange }: ChoicesProps) {
  const set = (i: number, change: Partial<ReplyWay["choices"][number]>) =>
    onChange(way.choices.map((c, j) => (i === j ? { ...c, ...change } : c)));
  const optionsOf = (when: Condition | null): Option[] => [
    { value: "always", label: "in every other case" },
    ...setup.products.map((p) => ({ value: `product:${p.key}`, label: `they ask about: ${p.name}` })),
    ...setup.languages.map((l) => ({
      value: `language:${l}`,
      label: `they speak ${valueNames.language(l)}`,
    })),
    ...(keyOf(when) === "other" ? [{ value: "other", label: inWords(when) }] : []),
  ];
  const add = () => {
    const first = templates[0];
    if (first)
      onChange([
        {
          when: { field: "product", is: "equal", value: setup.products[0]?.key ?? "" },
          templateId: first.id,
        },
        ...way.choices,
      ]);
  };
  return (
    <>
      {way.choices.map((choice, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a case has nothing but its place to be told by
        <div key={i} className={styles.row}>
          <Choice
            label={`When, case ${i + 1}`}
            quiet
            value={keyOf(choice.when)}
            options={optionsOf(choice.when)}
            onChange={(key) => {
              const [field, value] = key.split(":");
              if (key === "always") set(i, { when: null });
              else if (field === "product" || field === "language")
                set(i, { when: { field, is: "equal", value: value ?? "" } });
            }}
          />
          <Choice
            label={`Template, case ${i + 1}`}
            quiet
            value={choice.templateId}
            options={[
              ...(templates.some((t) => t.id === choice.templateId)
                ? []
                : [{ value: choice.templateId, label: "choose a template", disabled: true }]),
              ...templates.map((t) => ({ value: t.id, label: t.name })),
            ]}
            onChange={(templateId) => set(i, { templateId })}
          />
          <Button
            look="bare"
            aria-label={`Remove case ${i + 1}`}
            onClick={() => onChange(way.choices.filter((_, j) => i !== j))}
          >
            Remove
          </Button>
        </div>
      ))}
      <p className={styles.row}>
        <Button disabled={templates.length === 0} onClick={add}>
          Another case before these
        </Button>
        <span className={styles.quiet}>The first that fits is sent, in their language where it has one.</span>
      </p>
    </>
  );
}
