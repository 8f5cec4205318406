import { useState } from "react";
import { call } from "../../../live/api.ts";
import { Button } from "../../../ui/Button.tsx";
import { TraceList } from "../../../ui/TraceList.tsx";
import type { Trace } from "../../../wire/schemas.ts";
import { LeadChoice } from "../LeadChoice.tsx";
import setup from "../Setup.module.css";
import styles from "./Routing.module.css";

/** Ask the rules about one lead, as if it came in now: who would get it, and every thought on the way. */
export function TryLead({ hasDraft }: { readonly hasDraft: boolean }) {
  const [lead, setLead] = useState<string | null>(null);
  const [tried, setTried] = useState<{ which: string; trace: Trace } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const ask = (which: "live" | "draft") =>
    lead &&
    call("POST /setup/routing/try", { body: { leadId: lead, which } }).then(
      (trace) => {
        setTried({ which, trace });
        setProblem(null);
      },
      (error: Error) => setProblem(error.message),
    );
  return (
    <>
      <h2>Try a lead</h2>
      <div className={setup.row}>
        <LeadChoice label="Find a lead" leadId={lead} onChange={setLead} />
        <Button disabled={!lead} onClick={() => void ask("live")}>
          By the live rules
        </Button>
        {hasDraft && (
          <Button disabled={!lead} onClick={() => void ask("draft")}>
            By the draft
          </Button>
        )}
      </div>
      {problem && <p className={setup.wrong}>{problem}</p>}
      {tried && (
        <div className={styles.trace} aria-live="polite">
          <TraceList trace={tried.trace} />
        </div>
      )}
    </>
  );
}
