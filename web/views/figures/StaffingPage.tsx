import { useState } from "react";
import { USUAL_GOAL } from "../../../core/report/figures/staffing.ts";
import { percent, sayHourOfWeek, sayMinutes, WEEKDAYS } from "../../../core/report/words.ts";
import type { Weekday } from "../../../core/time/calendar.ts";
import { useInAddress } from "../../live/address.ts";
import { useStaffing } from "../../live/figure-queries.ts";
import { useLabChoices } from "../../live/lab-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Plot } from "../../ui/Plot.tsx";
import type { StaffingFigures } from "../../wire/figure-schemas.ts";
import { openLabWith } from "../lab/SetUp.tsx";
import { ByRunning } from "./ByRunning.tsx";
import styles from "./Figures.module.css";
import type { PageProps } from "./page.ts";
import { drawBars, drawWeek, WEEK_HEIGHT } from "./plots.ts";
import { WhichLeads } from "./WhichLeads.tsx";

const DAYS = WEEKDAYS.map((label, i) => ({ value: String(i), label }));

/** How many are needed on duty, and who is. */
export function StaffingPage({ span, onBehind }: PageProps) {
  const [goal, setGoal] = useInAddress("goal");
  const [minutes, setMinutes] = useInAddress("minutes");
  const [seconds, setSeconds] = useInAddress("seconds");
  const [day, setDay] = useInAddress("day");
  const [more, setMore] = useInAddress("more");
  const { data, error } = useStaffing({
    ...span,
    ...(goal && { goal }),
    ...(minutes && { minutes }),
    ...(seconds && { seconds }),
    ...(day && { day }),
    ...(more && { more }),
  });
  return (
    <>
      <div className={styles.asks}>
        <Asked
          label="Per cent in time"
          value={goal ?? String(USUAL_GOAL.goal * 100)}
          min={1}
          max={99}
          onChange={setGoal}
        />
        <Asked
          label="within, minutes"
          value={minutes ?? String(USUAL_GOAL.minutes)}
          min={1}
          max={1440}
          onChange={setMinutes}
        />
        <Asked
          label="A lead takes, seconds"
          value={seconds ?? ""}
          placeholder={data ? String(Math.round(data.seconds)) : ""}
          min={10}
          max={36_000}
          onChange={setSeconds}
        />
        <Choice
          label="What if on"
          value={(day ?? "") as "0"}
          options={[{ value: "", label: "no day" } as never, ...DAYS]}
          onChange={(v) => {
            setDay(v || null, { replace: true });
            if (v && !more) setMore("1", { replace: true });
          }}
        />
        {day && <Asked label="so many more" value={more ?? "0"} min={-50} max={50} onChange={setMore} />}
        {day && more && Number(more) > 0 && <InLab day={Number(day)} more={Number(more)} />}
      </div>
      {error && <p role="alert">{error.message}</p>}
      {!data && !error && <p className={styles.loading}>Reading the record …</p>}
      {data && (
        <Told data={data} span={span} seconds={seconds ? Number(seconds) : null} onBehind={onBehind} />
      )}
    </>
  );
}

/** What the formulas say is tried on the desk’s real hours, offers and habits. */
function InLab({ day, more }: { readonly day: number; readonly more: number }) {
  const { data } = useLabChoices();
  const like = data?.people[0];
  if (!like) return null;
  const changes = Array.from({ length: Math.min(more, 40) }, () => ({
    kind: "more" as const,
    like: like.id,
    // Days count from Monday, 1, as calendars have them; figures count them from 0.
    days: [(day + 1) as Weekday],
    span: null,
  }));
  const name = `${more} more on ${WEEKDAYS[day]}`;
  return (
    <Button look="bare" onClick={() => openLabWith(changes, name)}>
      Run it in the lab
    </Button>
  );
}

/** A number that is put into the address as it is typed, where it may stand. */
function Asked({
  label,
  value,
  min,
  max,
  placeholder,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly min: number;
  readonly max: number;
  readonly placeholder?: string;
  readonly onChange: (value: string | null, how: { replace: true }) => void;
}) {
  const [typed, setTyped] = useState(value);
  const type = (text: string) => {
    setTyped(text);
    const n = Number(text);
    if (text === "") onChange(null, { replace: true });
    else if (n >= min && n <= max) onChange(text, { replace: true });
  };
  const isWrong = typed !== "" && !(Number(typed) >= min && Number(typed) <= max);
  return (
    <label>
      {label}
      <input
        type="number"
        value={typed}
        min={min}
        max={max}
        placeholder={placeholder}
        aria-invalid={isWrong}
        onChange={(e) => type(e.target.value)}
      />
      {isWrong && (
        <span role="alert">
          From {min} to {max}.
        </span>
      )}
    </label>
  );
}

type Hour = StaffingFigures["hours"][number];
const nameOf = ({ hour }: Hour) => sayHourOfWeek(hour);
const round = (n: number) => (n < 10 ? n.toFixed(1) : String(Math.round(n)));

function Told({
  data,
  span,
  seconds,
  onBehind,
}: PageProps & { readonly data: StaffingFigures; readonly seconds: number | null }) {
  const open = data.hours.filter((h) => h.open);
  const [day, setDay] = useState("0");
  if (open.length === 0)
    return (
      <Empty title="The desk has no open hours">
        <p>
          Give it hours under <a href="/setup/hours">Set-up, Desk hours</a>: how many are needed is reckoned
          for them.
        </p>
      </Empty>
    );
  const holes = open.filter((h) => h.spare !== null && h.spare < 0);
  const slack = open.filter((h) => h.spare !== null && h.spare > 0);
  const never = open.some((h) => h.needed === null);
  return (
    <>
      <ul className={styles.key}>
        <li>
          <b>{holes.length}</b>
          <span>hours of the week with too few</span>
          <small>
            {holes.length === 0
              ? "the roster keeps the goal"
              : `worst ${nameOf([...holes].sort((a, b) => a.spare! - b.spare!)[0]!)}`}
          </small>
        </li>
        <li>
          <b>{slack.reduce((sum, h) => sum + h.spare!, 0)}</b>
          <span>hours of people more than needed</span>
          <small>in {slack.length} hours of the week</small>
        </li>
        <li>
          <b>{round(data.seconds / 60)} min</b>
          <span>a lead takes</span>
          <small>
            {data.calls > 0 ? `by ${data.calls} calls of this desk` : "as said or taken for granted"}
          </small>
        </li>
        <li>
          <b>{data.halfLife === null ? "–" : sayMinutes(data.halfLife)}</b>
          <span>until half have lost interest</span>
          <small>
            {data.halfLife === null ? "nothing of it shows in these days" : "by who was reached how late"}
          </small>
        </li>
      </ul>
      {never && (
        <p role="alert">In some hours not even 500 would keep this goal. Ask for less, or give more time.</p>
      )}
      <Week data={data} />
      <ByRunning data={data} span={span} seconds={seconds} />
      <div className={styles.choice}>
        <Choice label="Day" value={day as "0"} options={DAYS} onChange={setDay} />
      </div>
      <Day
        hours={data.hours.slice(Number(day) * 24, Number(day) * 24 + 24)}
        name={WEEKDAYS[Number(day)]!}
        onBehind={onBehind}
      />
      <p className={styles.note}>
        Needed is reckoned by Erlang’s formulas, but where the desk is run: leads come by chance about an
        expected number, each takes a time by chance, whoever is free takes the next.{" "}
        {data.halfLife === null
          ? "Nobody is taken to give up while waiting."
          : "Leads that wait lose interest as this desk’s own have."}{" "}
        Leads that come while the desk is closed count in the hour it opens. {round(data.weeks)} weeks are
        told of: the bounds are what so few weeks leave open. People’s breaks, other work and days off are not
        in it.
      </p>
    </>
  );
}

function Week({ data }: { readonly data: StaffingFigures }) {
  const cells = data.hours
    .filter((h) => h.open)
    .map((h) => ({
      hour: h.hour,
      value: h.spare,
      label: h.needed === null ? "?" : `${h.onDuty}/${h.needed}`,
      said: `${nameOf(h)}\n${h.onDuty} on duty, ${h.needed} needed${h.neededHigh !== null && h.neededHigh !== h.needed ? ` (up to ${h.neededHigh})` : ""}\n${round(h.expected)} leads expected (${round(h.low)} to ${round(h.high)}), ${percent(h.within)} in time`,
    }));
  const draw = drawWeek(cells, [-2, 2], ["--ember-wash", "--sheet", "--tarn-wash"]);
  return (
    <Plot
      title="On duty / needed"
      said={`So that ${data.goal} of 100 leads are tried within ${sayMinutes(data.minutes)}. Reddish: too few; greenish: more than needed.`}
      label={cells.map((c) => c.said.replaceAll("\n", ", ")).join("; ")}
      draw={draw}
      height={WEEK_HEIGHT}
      file="staffing"
      table={{
        head: [
          "Hour",
          "Leads expected",
          "At least",
          "At most",
          "On duty",
          "Needed",
          "Needed at most",
          "If nobody gives up",
          "In time",
        ],
        rows: data.hours
          .filter((h) => h.open)
          .map((h) => [
            nameOf(h),
            h.expected.toFixed(2),
            h.low.toFixed(2),
            h.high.toFixed(2),
            String(h.onDuty),
            String(h.needed ?? "over 500"),
            String(h.neededHigh ?? "over 500"),
            String(h.neededPatient ?? "over 500"),
            h.within?.toFixed(4) ?? "",
          ]),
      }}
    />
  );
}

function Day({
  hours,
  name,
  onBehind,
}: {
  readonly hours: readonly Hour[];
  readonly name: string;
  readonly onBehind: PageProps["onBehind"];
}) {
  const shown = hours.filter((h) => h.open || h.came > 0);
  const bars = shown.map((h) => ({
    value: h.expected,
    low: h.low,
    high: h.high,
    said: `${nameOf(h)}: ${round(h.expected)} leads expected (${round(h.low)} to ${round(h.high)})${h.waiting > 0 ? `, ${h.waiting} of ${h.came} from while it was closed` : ""}`,
  }));
  const draw = drawBars({ names: shown.map((h) => String(h.hour % 24)), bars, of: (v) => String(v) });
  if (shown.length === 0)
    return <p className={styles.note}>The desk is closed on {name}, and nothing came.</p>;
  return (
    <Plot
      title={`What comes on ${name}`}
      said="Leads to be answered in an ordinary week by hour, with what so few weeks leave open (Garwood’s interval)."
      label={bars.map((b) => b.said).join("; ")}
      draw={draw}
      height={220}
      file={`arrivals-${name}`}
      table={{
        head: ["Hour", "Leads", "Of them waiting", "Expected", "At least", "At most"],
        rows: shown.map((h) => [
          nameOf(h),
          String(h.came),
          String(h.waiting),
          h.expected.toFixed(2),
          h.low.toFixed(2),
          h.high.toFixed(2),
        ]),
      }}
    >
      <WhichLeads
        parts={shown.map((h) => ({
          key: String(h.hour),
          label: `${h.hour % 24}:00`,
          n: h.came,
          onOpen: () =>
            onBehind("all", `To be answered ${nameOf(h)}`, { by: "work-hour", key: String(h.hour) }),
        }))}
      />
    </Plot>
  );
}
