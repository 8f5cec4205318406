import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, Circle } from "lucide-react";
import { call } from "../../live/api.ts";
import { useMe } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import hidden from "../../ui/hidden.module.css";
import styles from "./Tutorial.module.css";

/** How often is looked whether a step was done (ms). */
const LOOK = 1_500;

/** How far somebody is in learning the desk; nothing while they do not, and outside of a rehearsal. */
function useTutorial() {
  const { data: me } = useMe();
  return useQuery({
    queryKey: ["tutorial", me?.id],
    queryFn: () => call("GET /rehearsal/tutorial", { query: { page: location.pathname } }),
    enabled: me?.rehearsal === true,
    refetchInterval: (query) => (query.state.data?.steps ? LOOK : false),
  });
}

function useSwitch() {
  const client = useQueryClient();
  const { data: me } = useMe();
  return async (on: boolean) =>
    client.setQueryData(["tutorial", me?.id], await call("POST /rehearsal/tutorial", { body: { on } }));
}

/** The steps beside whatever is open: the next one with how it is done; each is ticked as it was done. */
export function Tutorial() {
  const { data } = useTutorial();
  const turn = useSwitch();
  const steps = data?.steps;
  if (!steps) return null;
  const next = steps.find((s) => !s.done);
  const done = steps.filter((s) => s.done).length;
  return (
    <aside className={styles.tutorial} aria-label="Learning the desk">
      <p className={styles.head}>
        <b>
          {done} of {steps.length} done
        </b>
        <Button look="bare" onClick={() => void turn(false)}>
          {next ? "Leave it" : "Done"}
        </Button>
      </p>
      {next ? (
        <div role="status">
          <p className={styles.title}>
            <a href={next.href}>{next.title}</a>
          </p>
          <p>{next.how}</p>
        </div>
      ) : (
        <p role="status">That was all: you know your way now.</p>
      )}
      <details className={styles.all}>
        <summary>All steps</summary>
        <ol className={styles.steps}>
          {steps.map((step) => (
            <li key={step.key} data-done={step.done || undefined}>
              {step.done ? <Check size={14} aria-hidden="true" /> : <Circle size={14} aria-hidden="true" />}
              <span>{step.title}</span>
              {step.done && <span className={hidden.hidden}>, done</span>}
            </li>
          ))}
        </ol>
      </details>
    </aside>
  );
}

/** Where one begins to learn. */
export function BeginTutorial() {
  const { data } = useTutorial();
  const turn = useSwitch();
  if (!data) return null;
  return (
    <p className={styles.begin}>
      <Button onClick={() => void turn(true)}>
        {data.steps
          ? "Begin learning again"
          : `Learn the desk as ${/^[aeiou]/.test(data.role) ? "an" : "a"} ${data.role}`}
      </Button>
    </p>
  );
}
