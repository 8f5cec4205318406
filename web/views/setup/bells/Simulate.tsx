import { useState } from "react";
import { dateTime } from "../../../../core/time/words.ts";
import { call } from "../../../live/api.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import type { BellsSetup, SaveBells, Simulated } from "../../../wire/bells-schemas.ts";
import { LeadChoice } from "../LeadChoice.tsx";
import setup from "../Setup.module.css";
import styles from "./Bells.module.css";

interface Props {
  readonly draft: Omit<SaveBells, "running">;
  readonly kinds: BellsSetup["kinds"];
  readonly zone: string;
}

/** Run the ladder over a lead as if nobody did anything: every rung with its true time, and who would be told. */
export function Simulate({ draft, kinds, zone }: Props) {
  const [leadId, setLeadId] = useState<string | null>(null);
  const [about, setAbout] = useState<BellsSetup["kinds"][number]["key"]>("inquiry");
  const [ran, setRan] = useState<Simulated | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const run = (leadId: string) =>
    call("POST /setup/bells/simulate", {
      body: {
        leadId,
        about,
        targets: draft.targets,
        ladders: draft.ladders,
        late: draft.late,
      },
    }).then(
      (simulated) => {
        setRan(simulated);
        setProblem(null);
      },
      (error: Error) => setProblem(error.message),
    );
  return (
    <>
      <h2>Simulate</h2>
      <p className={setup.intro}>
        What would happen to a lead if nobody did anything, by what stands on this page now. The lead itself
        is not touched, and nobody is told.
      </p>
      <div className={setup.ends}>
        <LeadChoice label="Find a lead" leadId={leadId} onChange={setLeadId} />
        <Choice
          label="Which bell"
          value={about}
          options={kinds.map((k) => ({ value: k.key, label: k.name }))}
          onChange={setAbout}
        />
        <Button disabled={!leadId} onClick={() => leadId && void run(leadId)}>
          Simulate
        </Button>
      </div>
      {problem && <p className={setup.wrong}>{problem}</p>}
      {ran && (
        <section className={styles.ran} aria-label="What would happen" aria-live="polite">
          {ran.target === null ? (
            <p>No target fits this lead: no bell would run.</p>
          ) : (
            <>
              <p>
                By “{ran.target}”, from {dateTime(Date.parse(ran.startedAt), zone, Date.parse(ran.startedAt))}
                :
              </p>
              <ol>
                {ran.steps.map((step, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: moments of one run, in order
                  <li key={i}>
                    <b>{dateTime(Date.parse(step.at), zone, Date.parse(ran.startedAt))}</b> {step.said}
                    {step.told.length > 0 && <small> Told: {step.told.join(", ")}.</small>}
                  </li>
                ))}
              </ol>
            </>
          )}
        </section>
      )}
    </>
  );
}
