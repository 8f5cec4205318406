import { useMemo, useState } from "react";
import { FACTS, PHONE_KINDS } from "../../../../core/policy/mapping.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { useChange, useFieldsSetup, useTried } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice, type Option } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { FieldMapping, FieldsSetup, Mapping, SourceDetail } from "../../../wire/setup-schemas.ts";
import { NewField } from "../fields/NewField.tsx";
import styles from "../Setup.module.css";
import { TestRun } from "./TestRun.tsx";

/** What can be chosen as what a field becomes: our facts, the company's own fields, or kept as an answer. */
export function factOptions(setup: FieldsSetup | undefined): Option[] {
  return [
    { value: "answer", label: "kept as an answer" },
    ...Object.entries(FACTS).map(([value, label]) => ({ value, label, group: "Everybody has" })),
    ...(setup?.fields ?? []).map((f) => ({ value: `own.${f.key}`, label: f.name, group: "Your own fields" })),
    { value: "+", label: "a new field …", group: "Your own fields" },
  ];
}

/** Left what arrived, right what it becomes, and beside it the result as it would be now. */
export function MappingEditor({ source }: { readonly source: SourceDetail }) {
  const { data: setup } = useFieldsSetup();
  const change = useChange();
  const editing = useEditing<Mapping>(`mapping:${source.key}`, source.mapping);
  const { draft: mapping, changed, put: setMapping } = editing;
  const [at, setAt] = useState(0);
  const [naming, setNaming] = useState<string | null>(null);
  const samples = source.samples.filter((s) => Object.keys(s.fields).length > 0);
  const sample = samples[at];
  const asked = [
    ...(source.form?.fields ?? []).map((f) => f.name),
    ...(source.adForm?.questions ?? []).map((q) => q.field),
  ];
  const names = [
    ...new Set([...Object.keys(sample?.fields ?? {}), ...asked, ...Object.keys(mapping.fields)]),
  ];
  const fields = useMemo(() => sample?.fields ?? {}, [sample]);
  const { data: tried } = useTried(source.key, fields, mapping);
  const set = (name: string, next: FieldMapping | null) => {
    const { [name]: _gone, ...rest } = mapping.fields;
    setMapping({ ...mapping, fields: next ? { ...rest, [name]: next } : rest });
  };
  const save = () =>
    change.mutate({
      call: "POST /sources/[id]",
      params: { id: source.key },
      body: { mapping },
      said: (s) => `Version ${s.mapping.version} of the mapping is in force.`,
      after: editing.done,
    });
  return (
    <div className={styles.editor}>
      <div>
        <div className={styles.top}>
          <h2>What arrived</h2>
          {samples.length > 0 && (
            <span className={styles.row}>
              <Button look="bare" disabled={at + 1 >= samples.length} onClick={() => setAt(at + 1)}>
                ‹ older
              </Button>
              <span className={styles.quiet}>
                delivery {at + 1} of {samples.length}
              </span>
              <Button look="bare" disabled={at === 0} onClick={() => setAt(at - 1)}>
                newer ›
              </Button>
            </span>
          )}
        </div>
        {names.length === 0 && (
          <p className={styles.quiet}>
            Nothing has arrived yet. Send one delivery, and its fields stand here to be mapped; or write a
            sample below and test with it.
          </p>
        )}
        {names.map((name) => (
          <MapRow
            key={name}
            name={name}
            value={fields[name] ?? ""}
            mapped={mapping.fields[name] ?? null}
            guess={source.guessed[name] ?? null}
            options={factOptions(setup)}
            onSet={(next) => set(name, next)}
            onNew={() => setNaming(name)}
          />
        ))}
        <Joins mapping={mapping} names={names} options={factOptions(setup)} onChange={setMapping} />
        <Constants mapping={mapping} setup={setup} onChange={setMapping} />
        <div className={styles.bar}>
          <Button look="strong" disabled={!changed || change.isPending} onClick={save}>
            Put this mapping in force
          </Button>
          {changed && (
            <Button look="bare" onClick={editing.leave}>
              Back to version {source.mapping.version}
            </Button>
          )}
          <span className={styles.quiet}>
            {changed
              ? "Not in force yet: what comes now still goes by the old one."
              : `Version ${source.mapping.version} is in force.`}
          </span>
        </div>
      </div>
      <aside className={styles.result}>
        <h2>What becomes of it</h2>
        {!tried || Object.keys(fields).length === 0 ? (
          <p className={styles.quiet}>The result stands here as soon as there is a delivery to read.</p>
        ) : tried.ok ? (
          <dl>
            {tried.facts.map((fact) => (
              <div key={`${fact.name}${fact.value}`}>
                <dt>{fact.name}</dt>
                <dd>{fact.value}</dd>
              </div>
            ))}
            {Object.entries(tried.answers).map(([name, value]) => (
              <div key={name}>
                <dt>answer: {name.replace(/_/g, " ")}</dt>
                <dd>{value}</dd>
              </div>
            ))}
          </dl>
        ) : (
          <p className={styles.wrong}>To quarantine. {tried.reason}</p>
        )}
        <TestRun source={source} fields={fields} mapping={mapping} />
        <Versions source={source} onTake={(m) => setMapping({ ...m, version: source.mapping.version })} />
      </aside>
      {naming && (
        <NewField
          suggested={naming}
          onClose={() => setNaming(null)}
          onMade={(key) => {
            set(naming, { to: `own.${key}` });
            setNaming(null);
          }}
        />
      )}
    </div>
  );
}

interface MapRowProps {
  readonly name: string;
  readonly value: string;
  readonly mapped: FieldMapping | null;
  readonly guess: FieldMapping | null;
  readonly options: Option[];
  readonly onSet: (next: FieldMapping | null) => void;
  readonly onNew: () => void;
}

export function MapRow({ name, value, mapped, guess, options, onSet, onNew }: MapRowProps) {
  const [open, setOpen] = useState(false);
  const guessed = guess
    ? options.find((o) => o.value === guess.to)?.label.toLowerCase()
    : "kept as an answer";
  const now = mapped ?? guess;
  return (
    <div className={styles.mapRow}>
      <span className={styles.theirs}>
        <b>{name}</b>
        <span title={value}>{value || "–"}</span>
      </span>
      <span className={styles.arrow} aria-hidden="true">
        →
      </span>
      <Choice
        label={`What ${name} becomes`}
        quiet
        value={mapped?.to ?? "guess"}
        options={[{ value: "guess", label: `on its own: ${guessed}` }, ...options]}
        onChange={(to) => {
          if (to === "+") onNew();
          else if (to === "guess") onSet(null);
          else onSet({ ...mapped, to: to as FieldMapping["to"] });
        }}
      />
      <Button
        look="bare"
        aria-expanded={open}
        aria-label={`More about ${name}`}
        onClick={() => setOpen(!open)}
      >
        more
      </Button>
      {open && now && <More name={name} now={now} value={value} onSet={onSet} />}
    </div>
  );
}

function More({
  name,
  now,
  value,
  onSet,
}: {
  readonly name: string;
  readonly now: FieldMapping;
  readonly value: string;
  readonly onSet: (next: FieldMapping) => void;
}) {
  const [theirs, setTheirs] = useState(value);
  const [ours, setOurs] = useState("");
  const words = Object.entries(now.translate ?? {});
  return (
    <div className={styles.more}>
      {now.to === "phone" && (
        <Choice
          label="Kind of phone"
          value={now.kind ?? ""}
          options={[{ value: "", label: "not told" }, ...PHONE_KINDS.map((k) => ({ value: k, label: k }))]}
          onChange={(kind) => {
            const { kind: _old, ...rest } = now;
            onSet(kind ? { ...rest, kind: kind as NonNullable<FieldMapping["kind"]> } : rest);
          }}
        />
      )}
      {now.to === "name" && (
        <Choice
          label="Which part stands first"
          value={now.order ?? ""}
          options={[
            { value: "", label: "the first name (a comma is read on its own)" },
            { value: "family-first", label: "the family name" },
          ]}
          onChange={(order) => {
            const { order: _old, ...rest } = now;
            onSet(order ? { ...rest, order: "family-first" } : rest);
          }}
        />
      )}
      {words.map(([from, to]) => (
        <div key={from} className={styles.row}>
          “{from}” is taken as “{to}”
          <Button
            look="bare"
            onClick={() =>
              onSet({ ...now, translate: Object.fromEntries(words.filter(([w]) => w !== from)) })
            }
          >
            Remove
          </Button>
        </div>
      ))}
      <div className={styles.row}>
        <Field label={`When ${name} says`} value={theirs} onChange={(e) => setTheirs(e.target.value)} />
        <Field label="take it as" value={ours} onChange={(e) => setOurs(e.target.value)} />
        <Button
          disabled={!theirs || !ours}
          onClick={() => {
            onSet({ ...now, translate: { ...now.translate, [theirs]: ours } });
            setTheirs("");
            setOurs("");
          }}
        >
          Add the word
        </Button>
      </div>
    </div>
  );
}

interface PartProps {
  readonly mapping: Mapping;
  readonly onChange: (mapping: Mapping) => void;
}

function Joins({
  mapping,
  names,
  options,
  onChange,
}: PartProps & { readonly names: readonly string[]; readonly options: Option[] }) {
  const [from, setFrom] = useState<readonly [string, string]>(["", ""]);
  const [to, setTo] = useState("address");
  const choices = [{ value: "", label: "–" }, ...names.map((n) => ({ value: n, label: n }))];
  return (
    <details open={mapping.joins.length > 0}>
      <summary>Join fields</summary>
      {mapping.joins.map((join, i) => (
        <p key={join.from.join()} className={styles.row}>
          {join.from.join(" + ")} → {options.find((o) => o.value === join.to)?.label}
          <Button
            look="bare"
            onClick={() => onChange({ ...mapping, joins: mapping.joins.filter((_, j) => j !== i) })}
          >
            Remove
          </Button>
        </p>
      ))}
      <div className={styles.row}>
        <Choice
          label="This field"
          value={from[0]}
          options={choices}
          onChange={(v) => setFrom([v, from[1]])}
        />
        <Choice
          label="and this one"
          value={from[1]}
          options={choices}
          onChange={(v) => setFrom([from[0], v])}
        />
        <Choice
          label="become"
          value={to}
          options={options.filter((o) => o.value !== "answer" && o.value !== "+")}
          onChange={setTo}
        />
        <Button
          disabled={!from[0] || !from[1] || from[0] === from[1]}
          onClick={() => {
            const join = { from: [...from], between: " ", to: to as Mapping["joins"][number]["to"] };
            const { [from[0]]: _a, [from[1]]: _b, ...fields } = mapping.fields;
            onChange({ ...mapping, fields, joins: [...mapping.joins, join] });
            setFrom(["", ""]);
          }}
        >
          Join
        </Button>
      </div>
    </details>
  );
}

function Constants({ mapping, setup, onChange }: PartProps & { readonly setup: FieldsSetup | undefined }) {
  const [tag, setTag] = useState("");
  const { data: all } = useFieldsSetup();
  const set = (key: "product" | "language" | "detail", value: string) => {
    const { [key]: _old, ...rest } = mapping.constants;
    onChange({ ...mapping, constants: value ? { ...rest, [key]: value } : rest });
  };
  const known = (setup?.tags ?? []).filter((t) => !mapping.tags.includes(t.name));
  return (
    <>
      <h2>Always added</h2>
      <div className={styles.fields}>
        <Choice
          label="Product, when nothing is said"
          value={mapping.constants.product ?? ""}
          options={[
            { value: "", label: "none" },
            ...(all?.products ?? []).map((p) => ({ value: p.key, label: p.name })),
          ]}
          onChange={(v) => set("product", v)}
        />
        <Field
          label="Source detail"
          value={mapping.constants.detail ?? ""}
          onChange={(e) => set("detail", e.target.value)}
        />
        <Field
          label="Language"
          placeholder="en, fr, es …"
          value={mapping.constants.language ?? ""}
          onChange={(e) => set("language", e.target.value)}
        />
      </div>
      <div className={styles.row}>
        {mapping.tags.map((t) => (
          <span key={t} className={styles.row}>
            <span title={setup?.tags.find((m) => m.name === t)?.meaning}># {t}</span>
            <Button
              look="bare"
              aria-label={`Remove the tag ${t}`}
              onClick={() => onChange({ ...mapping, tags: mapping.tags.filter((x) => x !== t) })}
            >
              Remove
            </Button>
          </span>
        ))}
        <Choice
          label="Add a tag"
          value={tag}
          options={[
            { value: "", label: "choose …" },
            ...known.map((t) => ({ value: t.name, label: t.name })),
          ]}
          onChange={(name) => {
            if (name) onChange({ ...mapping, tags: [...mapping.tags, name] });
            setTag("");
          }}
        />
      </div>
    </>
  );
}

function Versions({
  source,
  onTake,
}: {
  readonly source: SourceDetail;
  readonly onTake: (mapping: Mapping) => void;
}) {
  if (source.versions.length < 2) return null;
  return (
    <>
      <h2>Earlier versions</h2>
      <ul className={styles.trouble}>
        {source.versions.slice(1, 6).map((v) => (
          <li key={v.version}>
            Version {v.version}
            {v.by && `, by ${v.by}`}{" "}
            <Button look="bare" onClick={() => onTake(v.mapping)}>
              take it up again
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
