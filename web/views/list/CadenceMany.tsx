import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../../live/api.ts";
import { useCadences } from "../../live/cadence-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import styles from "./List.module.css";

interface Props {
  /** Which leads: named one by one, or those of a list that was loaded. */
  readonly who: { readonly ids: readonly string[] } | { readonly importId: string };
  readonly onClose: () => void;
  readonly onDone: () => void;
}

/** How often it is asked how far it has come (ms). */
const ASK = 400;

/** Begin a cadence with many: who would be left out and why is said before anything is done. */
export function CadenceMany({ who, onClose, onDone }: Props) {
  const { data } = useCadences();
  const live = (data?.cadences ?? []).filter((c) => c.state === "live");
  const [picked, pick] = useState("");
  const [spread, setSpread] = useState("0");
  const say = useSay();
  const id = picked || (live[0]?.id ?? "");
  const sent = "ids" in who ? { ids: [...who.ids] } : who;
  const { data: dry, error } = useQuery({
    queryKey: ["cadence-dry", id, who],
    queryFn: () => call("POST /cadences/[id]/starts", { id, body: { ...sent, dryRun: true } }),
    enabled: id !== "",
    staleTime: 0,
  });
  const begin = async () => {
    onDone();
    try {
      const { jobId, will } = await call("POST /cadences/[id]/starts", {
        id,
        body: { ...sent, spreadMinutes: Number(spread) || 0 },
      });
      for (let state = "running"; jobId && state === "running"; ) {
        const job = await call("GET /cadence-jobs/[id]", { id: jobId });
        state = job.state;
        if (state === "failed") say.wrong(job.said);
        if (state === "running") await new Promise((resolve) => setTimeout(resolve, ASK));
      }
      say.done(`${will} ${will === 1 ? "lead begins" : "leads begin"} the cadence.`);
    } catch (problem) {
      say.wrong(problem instanceof Error ? problem.message : String(problem));
    }
  };
  return (
    <Dialog title="Begin a cadence with them" onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (dry?.will) void begin();
        }}
      >
        <Choice
          label="Cadence"
          value={id}
          options={live.map((c) => ({ value: c.id, label: c.name }))}
          onChange={pick}
        />
        <Field
          label="Spread over, minutes"
          type="number"
          min={0}
          max={20160}
          value={spread}
          help="Each has its own place in it: nothing goes to all of them at once."
          onChange={(e) => setSpread(e.target.value)}
        />
        {error && <p role="alert">{error.message}</p>}
        {dry && (
          <p role="status">
            <b>{dry.will}</b> {dry.will === 1 ? "begins" : "begin"} it.
            {dry.wont.length > 0 && ` Left out: ${dry.wont.map((w) => `${w.n}, ${w.reason}`).join("; ")}.`}
          </p>
        )}
        <div className={styles.send}>
          <Button type="submit" look="strong" disabled={!dry?.will}>
            Begin
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
