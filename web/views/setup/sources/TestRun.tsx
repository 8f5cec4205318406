import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../../../live/api.ts";
import { useMe, useSheet } from "../../../live/queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { Mapping, SourceDetail } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";

interface Run {
  readonly leadId: string | null;
  readonly quarantined: boolean;
  readonly reason: string | null;
}

const SAMPLE = {
  name: "Sample Person",
  email: "sample@example.com",
  phone: "(303) 555-0100",
  message: "Only a test",
};

/** Send the sample through the real path as a marked test lead, follow it, and wipe it when done. */
export function TestRun({
  source,
  fields,
  mapping,
}: {
  readonly source: SourceDetail;
  readonly fields: Record<string, string>;
  readonly mapping: Mapping;
}) {
  const say = useSay();
  const client = useQueryClient();
  const { data: me } = useMe();
  const [goes, setGoes] = useState("me");
  const [run, setRun] = useState<Run | null>(null);
  const send = async () => {
    try {
      const sample = Object.keys(fields).length > 0 ? fields : SAMPLE;
      setRun(
        await call("POST /sources/[id]/test", {
          id: source.key,
          body: {
            fields: sample,
            mapping,
            byRules: goes === "rules",
          },
        }),
      );
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  const wipe = async (leadId: string) => {
    try {
      await call("POST /leads/[id]/wipe", { id: leadId });
      setRun(null);
      say.done("The test lead is gone, with everything about it.");
      void client.invalidateQueries({ queryKey: ["queue"] });
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <section aria-label="Test through the real path">
      <h2>Test through the real path</h2>
      <p className={styles.quiet}>
        Sends this sample in as a marked test, by the mapping as it stands here. Phone and mail are replaced
        by yours
        {me && ` (${me.name})`}, so no customer hears of it. It counts in no figure and is gone after a day.
      </p>
      <Choice
        label="Offered to"
        value={goes}
        onChange={setGoes}
        options={[
          { value: "me", label: "me alone; nobody else is told" },
          { value: "rules", label: "whoever the rules say, marked as a test" },
        ]}
      />
      <p>
        <Button onClick={() => void send()}>Send the test</Button>
      </p>
      {run?.quarantined && <p className={styles.wrong}>It went to quarantine. {run.reason}</p>}
      {run?.leadId && <Followed leadId={run.leadId} onWipe={() => void wipe(run.leadId!)} />}
    </section>
  );
}

/** What has happened to the test so far; grows as it happens. */
function Followed({ leadId, onWipe }: { readonly leadId: string; readonly onWipe: () => void }) {
  const { data: sheet } = useSheet(leadId);
  if (!sheet) return <p className={styles.quiet}>Following it …</p>;
  return (
    <>
      <ol className={styles.trouble}>
        {sheet.thread.map((item) => {
          const state = item.messages.map((m) =>
            m.state === "delivered"
              ? "delivered"
              : m.state === "sent"
                ? "sent"
                : m.error
                  ? `failed: ${m.error}`
                  : "on its way",
          )[0];
          return (
            <li key={item.id}>
              ◆ {item.summary}
              {state && <span className={styles.quiet}> {state}</span>}
            </li>
          );
        })}
      </ol>
      <div className={styles.row}>
        <a href={`/?lead=${leadId}`}>Open the test lead</a>
        <Button onClick={onWipe}>Wipe the test</Button>
      </div>
    </>
  );
}
