import { RUNGS } from "../../../../core/policy/bell-names.ts";
import type { RungAct } from "../../../../core/policy/bells.ts";
import { useInAddress } from "../../../live/address.ts";
import { useBells } from "../../../live/bells-queries.ts";
import { freshId } from "../../../live/fresh-id.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Field } from "../../../ui/Field.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import type { BellsSetup, Ladder, SaveBells, Target } from "../../../wire/bells-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Bells.module.css";
import { minutesSaid } from "./bell-words.ts";
import { LadderEditor } from "./LadderEditor.tsx";
import { LadderLine } from "./LadderLine.tsx";
import { Simulate } from "./Simulate.tsx";
import { TargetEditor } from "./TargetEditor.tsx";
import { WeekStrip } from "./WeekStrip.tsx";

/** Within what a lead must have been tried, and what happens around and after that moment. */
export function BellsView() {
  return (
    <SetupFrame place="Bells">
      <Bells />
    </SetupFrame>
  );
}

type BellsDraft = Omit<SaveBells, "running">;
const draftOf = ({ targets, ladders, late, counts }: BellsSetup): BellsDraft => ({
  targets,
  ladders,
  late,
  counts,
});

const TRIES = [
  { key: "call", name: "a call, whatever came of it" },
  { key: "text", name: "a personal text" },
  { key: "email", name: "a personal email" },
  { key: "visit", name: "a visit" },
] as const;

/** Stands for what is begun and not kept yet. */
const NEW = "new";
const NEW_LADDER: Ladder = {
  id: NEW,
  name: "New ladder",
  rungs: [{ fraction: 0.6, plusMinutes: 0, act: "nudge" }],
};

function newTarget(data: BellsSetup, draft: BellsDraft, key: string): Target | null {
  const kind = data.kinds.find((k) => k.key === key);
  if (!kind) return null;
  const about = kind.key === "inquiry" ? undefined : kind.key;
  const mine = draft.targets.filter((t) => t.about === about);
  return {
    id: `${NEW}${key}`,
    name: `${kind.name}, new`,
    ...(about && { about }),
    when: null,
    minutes: mine[0]?.minutes ?? 60,
    clock: "desk",
    ladderId: mine[0]?.ladderId ?? draft.ladders[0]?.id ?? "",
    off: true,
  };
}

function Bells() {
  const { data, error } = useBells();
  const save = useChange();
  const [targetId, openTarget] = useInAddress("target");
  const [ladderId, openLadder] = useInAddress("ladder");
  const [draft, setDraft] = useSetupDraft<BellsDraft>("bells", data ? draftOf(data) : null);
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data || !draft) return <p className={setup.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  const put = (part: Partial<BellsDraft>) => setDraft({ ...draft, ...part });
  // What is begun stands in the draft once it is kept: leaving it leaves nothing behind.
  const putTarget = (target: Target) =>
    put({
      targets: target.id.startsWith(NEW)
        ? [{ ...target, id: freshId("t") }, ...draft.targets]
        : draft.targets.map((t) => (t.id === target.id ? target : t)),
    });
  const putLadder = (ladder: Ladder) =>
    put({
      ladders:
        ladder.id === NEW
          ? [...draft.ladders, { ...ladder, id: freshId("l") }]
          : draft.ladders.map((l) => (l.id === ladder.id ? ladder : l)),
    });
  const inForce = (running: "keep" | "change") =>
    save.mutate({
      call: "POST /setup/bells",
      body: { ...draft, running },
      said: ({ moved }) =>
        running === "change"
          ? `In force; ${moved} running ${moved === 1 ? "bell goes" : "bells go"} by it.`
          : "In force for whatever begins from now on.",
      after: (now) => setDraft(draftOf(now.setup)),
    });
  const target =
    draft.targets.find((t) => t.id === targetId) ??
    (targetId?.startsWith(NEW) ? newTarget(data, draft, targetId.slice(NEW.length)) : null);
  const ladder = draft.ladders.find((l) => l.id === ladderId) ?? (ladderId === NEW ? NEW_LADDER : null);
  return (
    <>
      <div className={setup.top}>
        <h1>Bells</h1>
        <span className={setup.quiet}>
          {data.running} {data.running === 1 ? "bell runs" : "bells run"} now.{" "}
          <a href="/setup/hours">Desk hours and holidays</a>
        </span>
      </div>
      <p className={setup.intro}>
        A target says within what something must have happened. When it has not, the bell rings, and its
        ladder says who hears of it, who gets the lead, and when. The automatic reply answers no bell.
      </p>
      <WeekStrip targets={draft.targets} places={data.places} />
      <h2>Targets</h2>
      {data.kinds.map((kind) => (
        <Kind
          key={kind.key}
          kind={kind}
          draft={draft}
          sentences={data.sentences}
          onPut={put}
          onOpen={openTarget}
        />
      ))}
      <div className={setup.top}>
        <h2>Ladders</h2>
        <Button onClick={() => openLadder(NEW)}>Add a ladder</Button>
      </div>
      {draft.ladders.map((l) => {
        const used = draft.targets.filter((t) => t.ladderId === l.id);
        const sample = used[0] ?? draft.targets[0];
        return (
          <section key={l.id} className={styles.ladder} aria-label={`Ladder ${l.name}`}>
            <div className={setup.top}>
              <button type="button" className={setup.open} data-row onClick={() => openLadder(l.id)}>
                {l.name}
              </button>
              <span className={setup.quiet}>
                {used.length > 0 ? `for ${used.map((t) => t.name).join("; ")}` : "no target uses it"}{" "}
                {used.length === 0 && (
                  <Button
                    look="bare"
                    aria-label={`Remove the ladder ${l.name}`}
                    onClick={() => put({ ladders: draft.ladders.filter((x) => x.id !== l.id) })}
                  >
                    Remove
                  </Button>
                )}
              </span>
            </div>
            {sample && <LadderLine ladder={l} target={sample} groups={data.groups} plans={data.plans} />}
          </section>
        );
      })}
      <Simulate draft={draft} kinds={data.kinds} zone={data.zone} />
      <h2>What counts as a try</h2>
      <div className={setup.row}>
        {TRIES.map(({ key, name }) => (
          <label key={key} className={setup.check}>
            <input
              type="checkbox"
              checked={draft.counts.includes(key)}
              onChange={(e) =>
                put({
                  counts: e.target.checked ? [...draft.counts, key] : draft.counts.filter((c) => c !== key),
                })
              }
            />
            {name}
          </label>
        ))}
      </div>
      <p className={setup.intro}>
        Silent on their own: tests through the real path, leads closed as no real inquiry or joined to
        another, and whoever asked to be called at a time: their bell waits until then.
      </p>
      <h2>When the desk was off</h2>
      <div className={setup.row}>
        <Field
          label="A step is late after, minutes"
          type="number"
          min={0}
          value={draft.late.graceMinutes}
          onChange={(e) => put({ late: { ...draft.late, graceMinutes: Number(e.target.value) } })}
        />
        <fieldset className={setup.plain}>
          <legend>Late, these make no sense any more and are left out, with a word in the thread</legend>
          <div className={setup.row}>
            {(["nudge", "manager", "next", "group", "standby", "tag", "park"] as const).map(
              (act: RungAct) => (
                <label key={act} className={setup.check}>
                  <input
                    type="checkbox"
                    checked={draft.late.skip.includes(act)}
                    onChange={(e) =>
                      put({
                        late: {
                          ...draft.late,
                          skip: e.target.checked
                            ? [...draft.late.skip, act]
                            : draft.late.skip.filter((a) => a !== act),
                        },
                      })
                    }
                  />
                  {RUNGS[act].toLowerCase()}
                </label>
              ),
            )}
          </div>
        </fieldset>
      </div>
      {changed && (
        <SaveBar saving={save.isPending} onSave={() => inForce("keep")} draft={draft} onDraft={setDraft}>
          <Button
            disabled={save.isPending}
            hint="Rungs already climbed are not climbed again"
            onClick={() => inForce("change")}
          >
            Also for the {data.running} that run
          </Button>
        </SaveBar>
      )}
      {target && (
        <TargetEditor
          key={target.id}
          target={target}
          data={data}
          ladders={draft.ladders}
          onKeep={(next) => {
            putTarget(next);
            openTarget(null);
          }}
          onClose={() => openTarget(null)}
        />
      )}
      {ladder && (
        <LadderEditor
          key={ladder.id}
          ladder={ladder}
          data={data}
          sample={draft.targets.find((t) => t.ladderId === ladder.id) ?? draft.targets[0]!}
          onKeep={(next) => {
            putLadder(next);
            openLadder(null);
          }}
          onClose={() => openLadder(null)}
        />
      )}
    </>
  );
}

interface KindProps {
  readonly kind: BellsSetup["kinds"][number];
  readonly draft: BellsDraft;
  readonly sentences: BellsSetup["sentences"];
  readonly onPut: (part: Partial<BellsDraft>) => void;
  readonly onOpen: (id: string) => void;
}

/** The targets of one kind of bell, in the order they are asked. */
function Kind({ kind, draft, sentences, onPut, onOpen }: KindProps) {
  const about = kind.key === "inquiry" ? undefined : kind.key;
  const mine = draft.targets.filter((t) => t.about === about);
  const others = draft.targets.filter((t) => t.about !== about);
  const put = (targets: Target[]) => onPut({ targets: [...targets, ...others] });
  return (
    <section className={styles.kind} aria-label={kind.name}>
      <div className={setup.top}>
        <h3>
          {kind.name} <small className={styles.said}>{kind.said}</small>
        </h3>
        <Button
          look="bare"
          aria-label={`Add a target for ${kind.name.toLowerCase()}`}
          onClick={() => onOpen(`${NEW}${kind.key}`)}
        >
          Add
        </Button>
      </div>
      {mine.length === 0 && <p className={setup.quiet}>No bell of this kind.</p>}
      <Sortable items={mine} idOf={(t) => t.id} nameOf={(t) => t.name} onMove={put}>
        <ol className={styles.targets}>
          {mine.map((target) => (
            <TargetRow
              key={target.id}
              target={target}
              draft={draft}
              sentence={sentences[target.id] ?? ""}
              onOpen={() => onOpen(target.id)}
              onSwitch={() => put(mine.map((t) => (t.id === target.id ? { ...t, off: !t.off } : t)))}
              onCopy={() => {
                const copy = { ...target, id: freshId("t"), name: `${target.name}, copy`, off: true };
                put(mine.flatMap((t) => (t.id === target.id ? [t, copy] : [t])));
              }}
              onRemove={() => put(mine.filter((t) => t.id !== target.id))}
            />
          ))}
        </ol>
      </Sortable>
    </section>
  );
}

interface RowProps {
  readonly target: Target;
  readonly draft: BellsDraft;
  readonly sentence: string;
  readonly onOpen: () => void;
  readonly onSwitch: () => void;
  readonly onCopy: () => void;
  readonly onRemove: () => void;
}

function TargetRow({ target, draft, sentence, onOpen, onSwitch, onCopy, onRemove }: RowProps) {
  const { grip, ...place } = useGrip(target.id, target.name);
  const ladder = draft.ladders.find((l) => l.id === target.ladderId)?.name ?? "no ladder";
  return (
    <li className={target.off ? styles.off : styles.target} {...place}>
      {grip}
      <b className={styles.within}>{minutesSaid(target)}</b>
      <div>
        <button type="button" className={setup.open} data-row onClick={onOpen}>
          {target.name}
        </button>
        {target.off && " (switched off)"}
        <p className={setup.quiet}>
          {target.when ? `When ${sentence || "changed just now"}` : "Always"}; then “{ladder}”
        </p>
      </div>
      <span className={styles.acts}>
        <Button
          look="bare"
          aria-label={`${target.off ? "Switch on" : "Switch off"} ${target.name}`}
          onClick={onSwitch}
        >
          {target.off ? "Switch on" : "Switch off"}
        </Button>
        <Button look="bare" aria-label={`Duplicate ${target.name}`} onClick={onCopy}>
          Duplicate
        </Button>
        <Button look="bare" aria-label={`Remove ${target.name}`} onClick={onRemove}>
          Remove
        </Button>
      </span>
    </li>
  );
}
