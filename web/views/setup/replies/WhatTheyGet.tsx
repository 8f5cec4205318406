import { useState } from "react";
import { clockTime, timeBeside } from "../../../../core/time/words.ts";
import { useTriedReplies } from "../../../live/setup-queries.ts";
import { Choice } from "../../../ui/Choice.tsx";
import type { ChangeReplies, RepliesSetup } from "../../../wire/answering-schemas.ts";
import { Length } from "../../desk/Writing.tsx";
import { LeadChoice } from "../LeadChoice.tsx";
import styles from "../Setup.module.css";

interface Props {
  readonly draft: ChangeReplies;
  readonly setup: RepliesSetup;
  readonly sourceId: string;
}

/** Exactly what one person would receive, by each channel, with its time: under what is set here, not yet in force. */
export function WhatTheyGet({ draft, setup, sourceId }: Props) {
  const [source, setSource] = useState<string | null>(null);
  const [leadId, setLead] = useState<string | null>(null);
  const [at, setAt] = useState<"now" | "night">("now");
  const asked = source ?? sourceId;
  const { data, error } = useTriedReplies({ ...draft, sourceId: asked, leadId, at });
  return (
    <aside className={styles.result} aria-label="What they would receive">
      <h2>What they would receive</h2>
      <div className={styles.stack}>
        <LeadChoice leadId={leadId} onChange={setLead} />
        <Choice
          label="who inquires by"
          value={asked}
          options={setup.sources.map((s) => ({ value: s.id, label: s.name }))}
          onChange={setSource}
        />
        <Choice
          label="at"
          value={at}
          options={[
            { value: "now", label: "this moment" },
            { value: "night", label: "half past eleven at night, their time" },
          ]}
          onChange={(v) => setAt(v === "night" ? "night" : "now")}
        />
      </div>
      {error && <p className={styles.wrong}>{error.message}</p>}
      {data?.replies.map((reply) => (
        <section
          key={reply.channel}
          className={styles.gets}
          data-does={reply.does}
          aria-label={`What they get by ${reply.channel}`}
        >
          <h3>
            By {reply.channel}
            {reply.at && `, ${timeBeside(Date.parse(reply.at), data.zone, Date.parse(data.at))}`}
          </h3>
          {reply.does === "nothing" ? (
            <p className={reply.missing ? styles.wrong : styles.quiet}>Nothing. {reply.reason}</p>
          ) : (
            <>
              {reply.does === "hold" && <p className={styles.warn}>{reply.reason}</p>}
              <p className={styles.quiet}>
                “{reply.template}” from {reply.from} to {reply.to},{" "}
                {clockTime(Date.parse(reply.at ?? data.at), data.zone)} there
              </p>
              {reply.subject && <p className={styles.subject}>{reply.subject}</p>}
              <p className={styles.letter}>{reply.body}</p>
              {reply.channel === "text" && <Length text={reply.body ?? ""} />}
            </>
          )}
        </section>
      ))}
    </aside>
  );
}
