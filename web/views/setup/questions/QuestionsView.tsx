import { useState } from "react";
import { useEditing, useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { useQuestionSets } from "../../../live/stage-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import { Sortable, useGrip } from "../../../ui/Sortable.tsx";
import type { Question, QuestionsSetup, SaveQuestions } from "../../../wire/customer-schemas.ts";
import { EditorDialog } from "../EditorDialog.tsx";
import { SaveBar } from "../SaveBar.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Questions.module.css";

/** What is asked to qualify a lead: for a product, a source, or everybody. */
export function QuestionsView() {
  return (
    <SetupFrame place="Questions">
      <Questions />
    </SetupFrame>
  );
}

type Sets = SaveQuestions["questionSets"];
type Set = Sets[number];
type When = Parameters<typeof ConditionEditor>[0]["condition"];

function Questions() {
  const { data, error } = useQuestionSets();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<Sets>("questions", data?.questionSets ?? null);
  const [open, setOpen] = useState<{ set: number; question: number } | null>(null);
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={setup.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(data.questionSets);
  const putSet = (at: number, change: Partial<Set>) =>
    setDraft(draft.map((s, i) => (i === at ? { ...s, ...change } : s)));
  const editing = open && draft[open.set]?.questions[open.question];
  return (
    <>
      <h1>Questions</h1>
      <p className={setup.intro}>
        What one finds out before a lead is qualified. They are asked from the sheet, in rounds and beside a
        call, in any order; each answer is kept as a fact of the lead.
      </p>
      {draft.length === 0 && (
        <Empty title="Nothing is asked yet">
          Begin with the three things you always need to know before a price makes sense.
        </Empty>
      )}
      {draft.map((set, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a new one has no id yet
        <section key={at} className={styles.set} aria-label={set.name}>
          <div className={styles.head}>
            <Field label="Name" value={set.name} onChange={(e) => putSet(at, { name: e.target.value })} />
            <Button look="bare" onClick={() => setDraft(draft.filter((_, i) => i !== at))}>
              Remove these questions
            </Button>
          </div>
          <ConditionEditor
            condition={set.when as When}
            catalogue={data.catalogue}
            onChange={(when) => putSet(at, { when })}
          />
          <Sortable
            items={set.questions}
            idOf={(q) => q.key}
            nameOf={(q) => q.words}
            onMove={(questions) => putSet(at, { questions })}
          >
            <ol className={styles.questions}>
              {set.questions.map((q, n) => (
                <Row
                  key={q.key}
                  question={q}
                  data={data}
                  onOpen={() => setOpen({ set: at, question: n })}
                  onRemove={() => putSet(at, { questions: set.questions.filter((_, i) => i !== n) })}
                />
              ))}
            </ol>
          </Sortable>
          <Button
            onClick={() => {
              const field =
                data.askable.find((a) => !set.questions.some((q) => q.field === a.key)) ?? data.askable[0];
              const key = freshKey(set.questions.map((q) => q.key));
              putSet(at, {
                questions: [
                  ...set.questions,
                  {
                    key,
                    words: `What about ${field?.name.toLowerCase()}?`,
                    field: field?.key ?? "message",
                    help: "",
                    points: [],
                  },
                ],
              });
              setOpen({ set: at, question: set.questions.length });
            }}
          >
            Add a question
          </Button>
        </section>
      ))}
      <p className={setup.row}>
        <Button
          onClick={() => setDraft([...draft, { id: "", name: "New questions", when: null, questions: [] }])}
        >
          Add a set of questions
        </Button>
      </p>
      {open && editing && (
        <QuestionEditor
          question={editing}
          data={data}
          onClose={() => setOpen(null)}
          onKeep={(next) => {
            const set = draft[open.set];
            if (set)
              putSet(open.set, { questions: set.questions.map((q, i) => (i === open.question ? next : q)) });
            setOpen(null);
          }}
        />
      )}
      {changed && (
        <SaveBar
          saving={save.isPending}
          draft={draft}
          onDraft={setDraft}
          onSave={() =>
            save.mutate({
              call: "POST /setup/questions",
              body: { questionSets: draft } as SaveQuestions,
              said: "In force from now on.",
              after: (now) => setDraft(now.questionSets),
            })
          }
        />
      )}
    </>
  );
}

function freshKey(taken: readonly string[]): string {
  let n = taken.length + 1;
  while (taken.includes(`q${n}`)) n++;
  return `q${n}`;
}

function Row({
  question,
  data,
  onOpen,
  onRemove,
}: {
  readonly question: Question;
  readonly data: QuestionsSetup;
  readonly onOpen: () => void;
  readonly onRemove: () => void;
}) {
  const { ref, style, grip } = useGrip(question.key, question.words);
  const points = question.points.map((p) => p.points);
  const said = [
    data.askable.find((a) => a.key === question.field)?.name,
    question.when && "only sometimes",
    question.requiredFor && `needed for ${data.stages.find((s) => s.key === question.requiredFor)?.name}`,
    points.length > 0 && `${Math.min(...points)} to ${Math.max(...points)} points`,
  ].filter(Boolean);
  return (
    <li ref={ref} style={style} className={styles.row}>
      {grip}
      <button type="button" data-row className={styles.words} onClick={onOpen}>
        {question.words}
      </button>
      <span className={setup.quiet}>{said.join(" · ")}</span>
      <Button look="bare" onClick={onRemove}>
        Remove
      </Button>
    </li>
  );
}

function QuestionEditor({
  question,
  data,
  onKeep,
  onClose,
}: {
  readonly question: Question;
  readonly data: QuestionsSetup;
  readonly onKeep: (next: Question) => void;
  readonly onClose: () => void;
}) {
  // What is said aloud is what the question is called.
  const editing = useEditing(`question:${question.key}`, { ...question, name: question.words });
  const { draft } = editing;
  const put = (change: Partial<Question>) => editing.put({ ...draft, ...change });
  const field = data.askable.find((a) => a.key === draft.field);
  const putPoints = (at: number, change: Partial<Question["points"][number]>) =>
    put({ points: draft.points.map((p, i) => (i === at ? { ...p, ...change } : p)) });
  const isNumber = field?.type === "number" || field?.type === "money";
  return (
    <EditorDialog
      title="A question"
      editing={editing}
      onKeep={({ name, ...kept }) => onKeep({ ...kept, words: name })}
      onClose={onClose}
    >
      <p className={setup.quiet}>The name above is what is said aloud, as one would say it.</p>
      <Choice
        label="The answer is kept as"
        value={draft.field}
        options={data.askable.map((a) => ({ value: a.key, label: a.name }))}
        onChange={(key) => put({ field: key, points: [] })}
      />
      <Area
        label="Help for whoever asks"
        rows={2}
        value={draft.help}
        onChange={(e) => put({ help: e.target.value })}
      />
      <Choice
        label="Needed for the stage"
        value={draft.requiredFor ?? ""}
        options={[{ value: "", label: "none" }, ...data.stages.map((s) => ({ value: s.key, label: s.name }))]}
        onChange={(key) => put({ requiredFor: key || null })}
      />
      <fieldset className={setup.plain}>
        <legend>Only asked when</legend>
        <ConditionEditor
          condition={(draft.when ?? null) as When}
          catalogue={data.catalogue}
          onChange={(when) => put({ when })}
        />
      </fieldset>
      <fieldset className={setup.plain}>
        <legend>Points by the answer</legend>
        {draft.points.map((p, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: points have no other name
          <div key={at} className={setup.row}>
            {isNumber ? (
              <>
                <Field
                  label="From"
                  type="number"
                  value={p.atLeast ?? ""}
                  onChange={(e) =>
                    putPoints(at, { atLeast: e.target.value === "" ? undefined : Number(e.target.value) })
                  }
                />
                <Field
                  label="To"
                  type="number"
                  value={p.atMost ?? ""}
                  onChange={(e) =>
                    putPoints(at, { atMost: e.target.value === "" ? undefined : Number(e.target.value) })
                  }
                />
              </>
            ) : field && field.choices.length > 0 ? (
              <Choice
                label="When it is"
                value={p.is?.[0] ?? ""}
                options={[{ value: "", label: "–" }, ...field.choices.map((c) => ({ value: c, label: c }))]}
                onChange={(is) => putPoints(at, { is: is ? [is] : [] })}
              />
            ) : (
              <Field
                label="When it is"
                value={p.is?.join(", ") ?? ""}
                onChange={(e) => putPoints(at, { is: e.target.value.split(",") })}
              />
            )}
            <Field
              label="Points"
              type="number"
              value={p.points}
              onChange={(e) => putPoints(at, { points: Math.round(Number(e.target.value)) || 0 })}
            />
            <Button look="bare" onClick={() => put({ points: draft.points.filter((_, i) => i !== at) })}>
              Remove
            </Button>
          </div>
        ))}
        <Button onClick={() => put({ points: [...draft.points, { points: 10 }] })}>Add points</Button>
      </fieldset>
    </EditorDialog>
  );
}
