import { type Ref, useState } from "react";
import styles from "./Questions.module.css";
import { Asked, useAsking } from "./QuestionsTab.tsx";

interface Props {
  readonly leadId: string;
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
  readonly ref?: Ref<HTMLDetailsElement>;
}

/** What is still to be asked of a lead, beside whatever else one does with it. */
export function AskBeside({ leadId, open, onOpen, ref }: Props) {
  const { data: asking } = useAsking(leadId);
  const questions = asking?.sets.flatMap((set) => set.questions) ?? [];
  // Those that were open as it was begun stay, so that an answer is seen where it was given.
  const [begun, setBegun] = useState<ReadonlySet<string> | null>(null);
  if (asking && !begun) setBegun(new Set(questions.filter((q) => q.answer === null).map((q) => q.key)));
  const shown = questions.filter((q) => q.answer === null || begun?.has(q.key));
  const next = asking?.stages.find((s) => s.kind === "open" && s.asked > 0 && !s.here);
  if (!asking || shown.length === 0) return null;
  const left = shown.filter((q) => q.answer === null).length;
  return (
    <details ref={ref} className={styles.beside} open={open} onToggle={(e) => onOpen(e.currentTarget.open)}>
      <summary>
        To ask <b>{left}</b>
        {next && (
          <small>
            {next.known} of {next.asked} known for {next.name}
          </small>
        )}
      </summary>
      <ol className={styles.questions}>
        {shown.map((q) => (
          <Asked key={`${q.key}:${q.answer ?? ""}`} leadId={leadId} closed={false} question={q} />
        ))}
      </ol>
    </details>
  );
}
