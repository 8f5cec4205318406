import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../../live/api.ts";
import { useAct } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import type { Asking } from "../../wire/customer-schemas.ts";
import type { Lead } from "../../wire/schemas.ts";
import styles from "./Questions.module.css";

export const useAsking = (leadId: string | null) =>
  useQuery({
    queryKey: ["asking", leadId],
    queryFn: () => call("GET /leads/[id]/questions", { id: leadId ?? "" }),
    enabled: leadId !== null,
  });

type Question = Asking["sets"][number]["questions"][number];

/** What is asked to qualify a lead, in any order: what is known is filled in, what is typed is kept as one leaves it. */
export function QuestionsTab({ lead }: { readonly lead: Lead }) {
  const { data: asking, error } = useAsking(lead.id);
  if (error && !asking)
    return (
      <Empty title="The questions can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!asking) return <p className={styles.quiet}>Looking …</p>;
  return (
    <div className={styles.tab}>
      <StageLine lead={lead} asking={asking} />
      {asking.sets.length === 0 && (
        <Empty title="Nothing is asked of this lead">
          Questions are made under Set-up, Questions: for a product, a source, or everybody.
        </Empty>
      )}
      {asking.sets.map((set) => (
        <section key={set.id} aria-label={set.name}>
          <h3>{set.name}</h3>
          <ol className={styles.questions}>
            {set.questions.map((q) => (
              <Asked
                key={`${q.key}:${q.answer ?? ""}`}
                leadId={lead.id}
                closed={lead.closed !== null}
                question={q}
              />
            ))}
          </ol>
        </section>
      ))}
      <ScoreLine asking={asking} />
    </div>
  );
}

/** How far the lead is from each stage; pressing one moves it there, or says what is missing. */
function StageLine({ lead, asking }: { readonly lead: Lead; readonly asking: Asking }) {
  const act = useAct();
  const [reasonFor, setReasonFor] = useState<string | null>(null);
  const stages = asking.stages.filter((s) => s.key !== "Handed over");
  const ending = stages.find((s) => s.key === reasonFor);
  const move = (stage: string, reason?: string) => {
    const to = stages.find((s) => s.key === stage);
    if (to && to.kind !== "open" && !reason) return setReasonFor(stage);
    act.mutate({
      leadId: lead.id,
      act: "stage",
      body: { stage, ...(reason && { reason }) },
      said: `${to?.name ?? stage} now.`,
    });
    setReasonFor(null);
  };
  return (
    <div className={styles.stages}>
      <ol aria-label="Stages">
        {stages.map((s) => (
          <li key={s.key}>
            <button
              type="button"
              className={styles.stage}
              aria-current={s.here ? "step" : undefined}
              disabled={s.here || s.whyNot !== null || lead.closed !== null}
              title={
                s.whyNot ??
                (s.missing.length > 0 ? `Not known: ${s.missing.map((m) => m.name).join(", ")}` : s.name)
              }
              onClick={() => move(s.key)}
            >
              {s.name}
              {s.asked > 0 && !s.here && (
                <small>
                  {s.known} of {s.asked}
                </small>
              )}
            </button>
          </li>
        ))}
      </ol>
      {ending && (
        <p className={styles.reasons}>
          Why?{" "}
          {ending.reasons.map((r) => (
            <Button key={r} onClick={() => move(ending.key, r)}>
              {r}
            </Button>
          ))}
          <Button look="bare" onClick={() => setReasonFor(null)}>
            Cancel
          </Button>
        </p>
      )}
    </div>
  );
}

interface AskedProps {
  readonly leadId: string;
  readonly closed: boolean;
  readonly question: Question;
}

/** One question with its answer: kept as one leaves it, or asked again on the next open day. */
export function Asked({ leadId, closed, question }: AskedProps) {
  const act = useAct();
  const [typed, setTyped] = useState(question.answer ?? "");
  const known = question.answer !== null;
  const put = (value: string) => {
    if (value.trim() === (question.answer ?? "")) return;
    act.mutate({
      leadId,
      act: "questions",
      body: { answers: { [question.field]: value } },
      said: value.trim() ? `${question.name}: kept.` : `${question.name}: forgotten.`,
    });
  };
  const later = () =>
    act.mutate({
      leadId,
      act: "questions/later",
      body: { question: question.key },
      said: "A task for the next open day asks again.",
    });
  const chosen = question.choices.length > 0 && question.type !== "choices";
  return (
    <li className={styles.question} data-known={known || undefined}>
      <p className={styles.words}>
        <svg viewBox="0 0 12 12" aria-hidden="true">
          <path d="M6 0 12 6 6 12 0 6Z" />
        </svg>
        {question.words}
      </p>
      {question.help && <p className={styles.help}>{question.help}</p>}
      <div className={styles.answer}>
        {chosen ? (
          <Choice
            label={question.name}
            quiet
            value={typed}
            options={[{ value: "", label: "not known" }, ...question.choices]}
            onChange={(value) => {
              setTyped(value);
              put(value);
            }}
          />
        ) : question.field === "message" ? (
          <Area
            label={question.name}
            quiet
            rows={2}
            value={typed}
            disabled={closed}
            onChange={(e) => setTyped(e.target.value)}
            onBlur={() => put(typed)}
          />
        ) : (
          <Field
            label={question.name}
            quiet
            type={question.type === "date" ? "date" : "text"}
            placeholder={
              question.type === "choices" ? question.choices.map((c) => c.label).join(", ") : question.name
            }
            value={typed}
            disabled={closed}
            onChange={(e) => setTyped(e.target.value)}
            onBlur={() => put(typed)}
            onKeyDown={(e) => e.key === "Enter" && put(typed)}
          />
        )}
        {known ? (
          <small>{question.from ?? "known"}</small>
        ) : (
          !closed && (
            <Button look="bare" hint="Sets a task for the next open day" onClick={later}>
              No answer yet
            </Button>
          )
        )}
        {question.requiredFor && !known && (
          <small className={styles.needed}>for {question.requiredFor}</small>
        )}
      </div>
    </li>
  );
}

function ScoreLine({ asking }: { readonly asking: Asking }) {
  if (!asking.score) return null;
  const { points, made } = asking.score;
  return (
    <details className={styles.score}>
      <summary>
        Score <b>{points}</b>
      </summary>
      <ul>
        {made.map((m) => (
          <li key={m.field}>
            {m.points > 0 ? "+" : ""}
            {m.points} for {m.name.toLowerCase()}: {m.answer}
          </li>
        ))}
        {made.length === 0 && <li>No answer has given points yet.</li>}
      </ul>
    </details>
  );
}
