import { useState } from "react";
import { dayTime } from "../../../../core/time/words.ts";
import { useInAddress } from "../../../live/address.ts";
import { useNow } from "../../../live/clock.ts";
import { freshId } from "../../../live/fresh-id.ts";
import { useRouting } from "../../../live/routing-queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { RoutingSetup, Rule, RuleSet } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Routing.module.css";
import { RuleEditor } from "./RuleEditor.tsx";
import { TryLead } from "./TryLead.tsx";
import { TurnsEditor } from "./TurnsEditor.tsx";
import { Versions } from "./Versions.tsx";

/** The rules of routing: read like sentences, drafted here and published as a numbered version. */
export function RoutingView() {
  return (
    <SetupFrame place="Routing">
      <Routing />
    </SetupFrame>
  );
}

function Routing() {
  const { data, error } = useRouting();
  const change = useChange();
  const [open, setOpen] = useInAddress("rule");
  const [note, setNote] = useState("");
  const say = useSay();
  const now = useNow();
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data) return <p className={setup.quiet}>Looking …</p>;
  const set: RuleSet = data.draft ?? data.live;
  const { zone } = data;
  const keep = (next: RuleSet, said = "") =>
    change.mutateAsync({
      call: "POST /setup/routing/draft",
      body: { rules: next.rules, setAside: next.setAside },
      said,
    });
  const edited = set.rules.find((r) => r.id === open) ?? (open === "new" ? newRule(data, set) : null);
  return (
    <>
      <div className={setup.top}>
        <h1>Routing</h1>
        <div className={setup.row}>
          <Button look="strong" onClick={() => setOpen("new")}>
            Add a rule
          </Button>
        </div>
      </div>
      <p className={setup.intro}>
        Rules are asked from the top. The first that fits decides, unless it says that the next ones are asked
        when it comes to nothing. What you change here is a draft: leads go by version {data.version}
        {data.by ? `, which ${data.by} published ${dayTime(Date.parse(data.publishedAt), zone, now)}` : ""},
        until it is published.
      </p>
      {data.draft && (
        <section className={styles.draft} aria-label="The draft">
          <p>
            <b>A draft waits.</b> Changed last by {data.draft.by},{" "}
            {dayTime(Date.parse(data.draft.at), zone, now)}.
            {data.problem && <span className={styles.problem}> {data.problem.message}</span>}
          </p>
          <div className={setup.row}>
            {data.mayPublish ? (
              <>
                <Field
                  label="What changes, in a line"
                  quiet
                  placeholder="What changes, in a line"
                  value={note}
                  onChange={(e) => setNote(e.target.value)}
                />
                <Button
                  look="strong"
                  disabled={data.problem !== null || change.isPending}
                  onClick={() =>
                    change.mutate({
                      call: "POST /setup/routing/publish",
                      body: { note },
                      said: `Version ${data.version + 1} is in force.`,
                      after: () => setNote(""),
                    })
                  }
                >
                  Publish as version {data.version + 1}
                </Button>
              </>
            ) : (
              <span className={setup.quiet}>A manager publishes it.</span>
            )}
            <a href="/setup/playback">Play it back</a>
            <Button
              look="bare"
              onClick={() =>
                change.mutate({
                  call: "POST /setup/routing/drop",
                  said: "",
                  after: () =>
                    say.done(
                      "The draft is gone; the live rules stand here.",
                      () => void keep(set, "The draft is back."),
                    ),
                })
              }
            >
              Throw it away
            </Button>
          </div>
        </section>
      )}
      {data.warnings.some((w) => w.ruleId === null) && (
        <ul className={setup.trouble}>
          {data.warnings
            .filter((w) => w.ruleId === null)
            .map((w) => (
              <li key={w.said} className={setup.note}>
                {w.said}
              </li>
            ))}
        </ul>
      )}
      <h2>Before any rule</h2>
      <SetAside set={set} onKeep={(next) => void keep(next)} />
      <h2>Rules, in order</h2>
      {set.rules.length === 0 && (
        <Empty title="No rule yet">
          Without one every lead goes to standby. Add a rule for everybody first.
        </Empty>
      )}
      <Rules data={data} set={set} onKeep={(next) => void keep(next)} onOpen={setOpen} />
      <TryLead hasDraft={data.draft !== null} />
      <TurnsEditor data={data} />
      <Versions
        data={data}
        onBringBack={(version) => void keep(version, `Version ${version.version} stands here as a draft.`)}
      />
      {edited && (
        <RuleEditor
          key={edited.id}
          rule={edited}
          data={data}
          onClose={() => setOpen(null)}
          onKeep={(rule) =>
            keep({ ...set, rules: withRule(set.rules, rule) }, "Kept in the draft.").then(() => setOpen(null))
          }
        />
      )}
    </>
  );
}

/** A rule that is begun: it stands in the draft once it is kept, so that leaving it leaves nothing behind. */
function newRule(data: RoutingSetup, set: RuleSet): Rule {
  const group = data.groups[0];
  const person = data.people.find((p) => p.role === "salesperson");
  const to: Rule["to"] = group ? { group: group.id } : { person: person?.id ?? "" };
  const names = new Set(set.rules.map((r) => r.name));
  let name = "New rule";
  for (let i = 2; names.has(name); i++) name = `New rule ${i}`;
  return { id: "new", name, when: null, to, offerMinutes: 5, off: true };
}

/** The rules with this one in its place; a new one comes first. */
function withRule(rules: readonly Rule[], rule: Rule): Rule[] {
  return rule.id === "new"
    ? [{ ...rule, id: freshId("r") }, ...rules]
    : rules.map((r) => (r.id === rule.id ? rule : r));
}

interface SetProps {
  readonly set: RuleSet;
  readonly onKeep: (set: RuleSet) => void;
}

function SetAside({ set, onKeep }: SetProps) {
  const put = (part: Partial<RuleSet["setAside"]>) =>
    onKeep({ ...set, setAside: { ...set.setAside, ...part } });
  return (
    <>
      <label className={setup.check}>
        <input
          type="checkbox"
          checked={set.setAside.keepOwner}
          onChange={(e) => put({ keepOwner: e.target.checked })}
        />
        A repeat inquiry of a closed lead goes back to whoever had it
      </label>
      <label className={setup.check}>
        <input
          type="checkbox"
          checked={set.setAside.household}
          onChange={(e) => put({ household: e.target.checked })}
        />
        A household stays together: whoever has one of them is asked first
      </label>
    </>
  );
}

interface RulesProps extends SetProps {
  readonly data: RoutingSetup;
  readonly onOpen: (id: string) => void;
}

function Rules({ data, set, onKeep, onOpen }: RulesProps) {
  const put = (rules: Rule[]) => onKeep({ ...set, rules });
  const copy = (rule: Rule) => {
    const at = set.rules.indexOf(rule);
    const twin = {
      ...structuredClone(rule),
      id: freshId("r"),
      name: `${rule.name}, copy`,
      off: true,
    };
    put([...set.rules.slice(0, at + 1), twin, ...set.rules.slice(at + 1)]);
  };
  return (
    <Sortable items={set.rules} idOf={(r) => r.id} nameOf={(r) => r.name} onMove={put}>
      <ol className={styles.rules}>
        {set.rules.map((rule, i) => (
          <RuleRow
            key={rule.id}
            rule={rule}
            number={i + 1}
            sentence={data.sentences[rule.id] ?? ""}
            warnings={data.warnings.filter((w) => w.ruleId === rule.id)}
            onOpen={() => onOpen(rule.id)}
            onCopy={() => copy(rule)}
            onSwitch={() => put(set.rules.map((r) => (r.id === rule.id ? { ...r, off: !r.off } : r)))}
            onRemove={() => put(set.rules.filter((r) => r.id !== rule.id))}
          />
        ))}
      </ol>
    </Sortable>
  );
}

interface RowProps {
  readonly rule: Rule;
  readonly number: number;
  readonly sentence: string;
  readonly warnings: RoutingSetup["warnings"];
  readonly onOpen: () => void;
  readonly onCopy: () => void;
  readonly onSwitch: () => void;
  readonly onRemove: () => void;
}

function RuleRow({ rule, number, sentence, warnings, onOpen, onCopy, onSwitch, onRemove }: RowProps) {
  const { grip, ...place } = useGrip(rule.id, rule.name);
  return (
    <li className={rule.off ? styles.off : styles.rule} {...place}>
      {grip}
      <span className={styles.number}>{number}</span>
      <div className={styles.said}>
        <button type="button" className={setup.open} data-row onClick={onOpen}>
          {rule.name}
        </button>
        {rule.off && <span className={styles.tag}> switched off</span>}
        <p>{sentence}</p>
        {warnings.map((w) => (
          <p key={w.said} className={w.kind === "unproved" ? styles.maybe : styles.never}>
            {w.said}
          </p>
        ))}
      </div>
      <div className={styles.acts}>
        <Button
          look="bare"
          aria-label={`${rule.off ? "Switch on" : "Switch off"} ${rule.name}`}
          onClick={onSwitch}
        >
          {rule.off ? "Switch on" : "Switch off"}
        </Button>
        <Button look="bare" aria-label={`Duplicate ${rule.name}`} onClick={onCopy}>
          Duplicate
        </Button>
        <Button look="bare" aria-label={`Remove ${rule.name}`} onClick={onRemove}>
          Remove
        </Button>
      </div>
    </li>
  );
}
