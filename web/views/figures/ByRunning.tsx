import { useQueryClient } from "@tanstack/react-query";
import { percent, sayHourOfWeek, sayMinutes } from "../../../core/report/words.ts";
import { useNeededRun } from "../../live/figure-queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Plot } from "../../ui/Plot.tsx";
import type { NeededRun, StaffingFigures } from "../../wire/figure-schemas.ts";
import styles from "./Figures.module.css";
import type { PageProps } from "./page.ts";
import { drawWeek, WEEK_HEIGHT } from "./plots.ts";

interface Props {
  readonly data: StaffingFigures;
  readonly span: PageProps["span"];
  /** How long a lead takes, as it was said; by the desk's own calls where null. */
  readonly seconds: number | null;
}

/** How many are needed when the desk itself is run, with its hours and offers: asked for, since it takes a while. */
export function ByRunning({ data, span, seconds }: Props) {
  const { data: run } = useNeededRun();
  const client = useQueryClient();
  const start = useChange();
  if (!run) return null;
  const isOfThis =
    run.state !== "none" &&
    run.from === data.from &&
    run.goal === data.goal &&
    run.minutes === data.minutes &&
    run.seconds === seconds;
  const isRunning = run.state === "running";
  const begin = () =>
    start.mutate({
      call: "POST /figures/staffing/run",
      body: { ...span, goal: data.goal, minutes: data.minutes, ...(seconds !== null && { seconds }) },
      said: "",
      after: (begun) => client.setQueryData(["needed-run"], begun),
    });
  return (
    <>
      {isOfThis && run.hours.length > 0 && <Hours run={run} data={data} />}
      <p className={styles.choice} role="status">
        {isOfThis && isRunning ? (
          `Weeks of the desk are being run: with ${run.tried + 1} on duty now …`
        ) : isOfThis && run.state === "failed" ? (
          <span role="alert">It could not be found out: {run.error}.</span>
        ) : null}
        {!(isOfThis && (isRunning || run.state === "done")) && (
          <Button look="bare" disabled={start.isPending} onClick={begin}>
            Find out by running the desk
          </Button>
        )}
      </p>
    </>
  );
}

function Hours({ run, data }: { readonly run: NeededRun; readonly data: StaffingFigures }) {
  const never = run.hours.filter((h) => h.needed === null).length;
  const cells = run.hours.map((h) => {
    const { onDuty, needed } = data.hours[h.hour]!;
    return {
      hour: h.hour,
      value: h.needed === null ? -2 : onDuty - h.needed,
      label: `${onDuty}/${h.needed ?? "–"}`,
      said: `${sayHourOfWeek(h.hour)}\n${onDuty} on duty, ${
        h.needed === null ? `not even ${run.tried} kept the goal` : `${h.needed} kept the goal`
      } (by formula ${needed ?? "over 500"})\n${percent(h.within)} in time (${percent(h.low)} to ${percent(h.high)}) of ${h.n} leads run`,
    };
  });
  const draw = drawWeek(cells, [-2, 2], ["--ember-wash", "--sheet", "--tarn-wash"]);
  return (
    <Plot
      title="On duty / needed, by running the desk"
      said={`${run.weeks} weeks were run with one on duty, two … up to ${run.tried}: by the desk’s own hours, rules and offers, with people who answer as yours do on average and try others again in between, so that ${run.goal} of 100 are tried within ${sayMinutes(run.minutes)}. ${
        never === 0
          ? "Offers that are passed or let lapse are in it, as formulas have them not."
          : `In ${never} ${never === 1 ? "hour" : "hours"} (–) no number was enough: offers are let lapse, whoever took it was with another lead still, or too much waits as the desk opens.`
      }`}
      label={cells.map((c) => c.said.replaceAll("\n", ", ")).join("; ")}
      draw={draw}
      height={WEEK_HEIGHT}
      file="staffing-run"
      table={{
        head: ["Hour", "On duty", "Needed", "By formula", "In time", "At least", "At most", "Leads run"],
        rows: run.hours.map((h) => [
          sayHourOfWeek(h.hour),
          String(data.hours[h.hour]!.onDuty),
          h.needed === null ? `over ${run.tried}` : String(h.needed),
          String(data.hours[h.hour]!.needed ?? "over 500"),
          h.within.toFixed(4),
          h.low.toFixed(4),
          h.high.toFixed(4),
          String(h.n),
        ]),
      }}
    />
  );
}
