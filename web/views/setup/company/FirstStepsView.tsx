import { useFirstSteps } from "../../../live/company-queries.ts";
import { useMe } from "../../../live/queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import type { FirstSteps } from "../../../wire/company-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import own from "./FirstSteps.module.css";

/** What a new desk lacks before an inquiry goes its whole way: the list of what is missing, in the order one does it. */
export function FirstStepsView() {
  return (
    <SetupFrame place="First steps">
      <Steps />
    </SetupFrame>
  );
}

type Step = FirstSteps["items"][number];

const isSeenTo = (step: Step) => step.done || step.spared;

function Steps() {
  const { data, error } = useFirstSteps();
  const { data: me } = useMe();
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!data || !me) return <p className={styles.quiet}>Looking …</p>;
  const left = data.items.filter((s) => !isSeenTo(s)).length;
  const next = data.items.find((s) => !isSeenTo(s));
  return (
    <>
      <h1>First steps</h1>
      <p className={styles.intro}>
        {left === 0
          ? "Everything a desk needs is there. Bells, alerts and all else began as most companies have them; Set-up changes each."
          : `From an empty desk to the first lead that is called. ${left === 1 ? "One step is left" : `${left} steps are left`}; bells, alerts and all else begin as most companies have them.`}
      </p>
      <ol className={own.steps}>
        {data.items.map((step) => (
          <StepRow
            key={step.key}
            step={step}
            isNext={step === next}
            may={me.rights.includes("setup.change")}
          />
        ))}
      </ol>
    </>
  );
}

function StepRow({
  step,
  isNext,
  may,
}: {
  readonly step: Step;
  readonly isNext: boolean;
  readonly may: boolean;
}) {
  const change = useChange();
  const settle = (settled: boolean) =>
    change.mutate({
      call: "POST /first-steps",
      body: { step: step.key, settled },
      said: settled ? `“${step.title}” is seen to.` : `“${step.title}” is on the list again.`,
    });
  return (
    <li className={own.step} data-done={isSeenTo(step)} aria-current={isNext ? "step" : undefined}>
      <span className={own.mark} aria-hidden="true">
        {step.done ? "◆" : step.spared ? "◇" : isNext ? "▲" : "△"}
      </span>
      <div>
        <h2>
          {step.href ? (
            <a href={step.href} data-row>
              {step.title}
            </a>
          ) : (
            step.title
          )}
          <span className={styles.quiet}>
            {step.done ? " done" : step.spared ? " done without" : isNext ? " next" : ""}
          </span>
        </h2>
        <p className={styles.quiet}>{step.gives}</p>
        {step.lacks && <p className={styles.warn}>{step.lacks}</p>}
      </div>
      {may && step.otherwise && !step.done && (
        <Button look="bare" disabled={change.isPending} onClick={() => settle(!step.spared)}>
          {step.spared ? "We want it after all" : step.otherwise}
        </Button>
      )}
    </li>
  );
}
