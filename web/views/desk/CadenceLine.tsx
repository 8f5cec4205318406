import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { readWhen } from "../../../core/time/read-when.ts";
import { bothTimes, dayTime } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useAct, useSheet } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import { Menu } from "../../ui/Menu.tsx";
import { placeOn } from "../../ui/score-scale.ts";
import type { Sheet } from "../../wire/schemas.ts";
import styles from "./CadenceLine.module.css";
import dialogs from "./dialogs.module.css";
import type { LeadDialogProps } from "./dialogs.tsx";

type Line = Sheet["cadences"][number];
type Asked = { readonly line: Line; readonly what: "pause" | "move" | "stop" | "skip" } | null;

const KIND = {
  call: "call",
  text: "text",
  email: "mail",
  task: "task",
  alert: "alert",
  tag: "tag",
  route: "rules",
  list: "list",
  park: "park",
  close: "close",
  if: "question",
} as const;
const kindOf = (kind: string) => KIND[kind as keyof typeof KIND] ?? kind;

/** Which cadences the lead is in: what has been, where it stands, what comes and when, what stops it. */
export function CadenceLines({ sheet, zone }: { readonly sheet: Sheet; readonly zone: string }) {
  const [asked, ask] = useState<Asked>(null);
  const act = useAct();
  const { lead, cadences } = sheet;
  const open = cadences.filter((c) => c.state === "running" || c.state === "paused");
  const ended = cadences.filter((c) => !open.includes(c));
  const steer = (line: Line, wish: "resume" | "now", said: string) =>
    act.mutate({ leadId: lead.id, act: `cadences/[run]`, run: line.runId, body: { do: wish }, said });
  if (open.length === 0 && ended.length === 0 && lead.tasks.length === 0) return null;
  return (
    <section className={styles.lines} aria-label="Cadences">
      {open.map((line) => (
        <div key={line.runId} className={styles.line}>
          <Drawn line={line} zone={zone} />
          <p className={styles.said}>
            <b>{line.name}</b> {standing(line, zone)}
            <span className={styles.stops} title={`Stops when ${line.stops.join(", ")}`}>
              {line.stops.length > 0
                ? ` Stops when ${line.stops.slice(0, 3).join(", ")}${line.stops.length > 3 ? " …" : "."}`
                : " Nothing they do stops it."}
            </span>
          </p>
          {!lead.closed && (
            <Menu
              label="Cadence"
              items={[
                line.state === "paused"
                  ? { label: "Go on", run: () => steer(line, "resume", `“${line.name}” goes on.`) }
                  : { label: "Pause …", run: () => ask({ line, what: "pause" }) },
                ...(line.state === "running" && line.next?.at
                  ? [
                      { label: "Do the next touch now", run: () => steer(line, "now", "It goes now.") },
                      { label: "Move the next touch …", run: () => ask({ line, what: "move" as const }) },
                      {
                        label: "Leave the next touch out …",
                        run: () => ask({ line, what: "skip" as const }),
                      },
                    ]
                  : []),
                { label: "Stop …", run: () => ask({ line, what: "stop" }) },
              ]}
            />
          )}
        </div>
      ))}
      {open.length === 0 && ended.length > 0 && (
        <p className={styles.ended}>
          {ended
            .map((c) => `${c.name}: ${c.state === "done" ? "done" : (c.reason ?? "stopped")}`)
            .join(" · ")}
        </p>
      )}
      {lead.tasks.map((task) => (
        <p key={task.id} className={styles.task}>
          ◇ {task.note}, {dayTime(Date.parse(task.dueAt), zone, deskNow())}{" "}
          <Button
            look="bare"
            onClick={() =>
              act.mutate({
                leadId: lead.id,
                act: "tasks",
                body: { taskId: task.id },
                said: `Done: ${task.note}.`,
              })
            }
          >
            Done
          </Button>
        </p>
      ))}
      {asked !== null && <SteerDialog sheet={sheet} zone={zone} {...asked} onClose={() => ask(null)} />}
    </section>
  );
}

/** Where a cadence stands, in words. */
function standing(line: Line, zone: string): string {
  const now = deskNow();
  const when = (iso: string) => dayTime(Date.parse(iso), zone, now);
  if (line.state === "paused")
    return `pauses: ${line.reason ?? "held back"}${line.until ? `, until ${when(line.until)}` : ""}.`;
  if (!line.next) return "has no touch left.";
  if (!line.next.at) return `waits for the ${kindOf(line.next.kind)} to be done.`;
  return `next ${kindOf(line.next.kind)} ${when(line.next.at)}${line.held ? ` (${line.held})` : ""}.`;
}

const WIDTH = 420;

/** The tail of a cadence: a knot for each touch at its true distance, filled as they are done. */
function Drawn({ line, zone }: { readonly line: Line; readonly zone: string }) {
  const start = Date.parse(line.startedAt);
  const now = deskNow();
  const last = Math.max(86_400_000, now - start, ...line.touches.map((t) => Date.parse(t.at) - start)) * 1.02;
  const x = (at: number) => 10 + placeOn(at - start, last) * (WIDTH - 20);
  return (
    <svg
      className={styles.tail}
      viewBox={`0 0 ${WIDTH} 30`}
      role="img"
      aria-label={`${line.name}: ${line.touches.filter((t) => t.state === "done").length} touches done, ${line.touches.filter((t) => t.state === "to-come" || t.state === "next").length} to come`}
    >
      <line className={styles.string} x1={10} x2={WIDTH - 10} y1={15} y2={15} />
      <line className={styles.today} x1={x(now)} x2={x(now)} y1={4} y2={26} />
      {line.touches.map((touch) => (
        <g
          key={`${touch.n}.${touch.at}`}
          className={styles.knot}
          data-state={touch.state}
          transform={`translate(${x(Date.parse(touch.at))} 15)`}
        >
          <path d="M0 -6 6 0 0 6 -6 0Z" />
          <title>{`${touch.n}. ${kindOf(touch.kind)}: ${touch.said}, ${dayTime(Date.parse(touch.at), zone, now)}${touch.state === "skipped" ? `, left out: ${touch.why}` : ""}`}</title>
        </g>
      ))}
    </svg>
  );
}

interface DialogProps {
  readonly sheet: Sheet;
  readonly zone: string;
  readonly onClose: () => void;
}

/** Put the lead into a cadence, now or at a time. */
export function CadenceDialog({ lead, zone, onClose }: LeadDialogProps) {
  const act = useAct();
  const { data: sheet } = useSheet(lead.id);
  const begins = sheet?.begins ?? [];
  const theirZone = sheet?.theirZone ?? zone;
  const [picked, choose] = useState("");
  const cadenceId = picked || (begins[0]?.id ?? "");
  const [words, setWords] = useState("");
  const now = deskNow();
  const at = words ? readWhen(words, now, theirZone) : null;
  const unclear = words !== "" && at === null;
  const name = begins.find((c) => c.id === cadenceId)?.name ?? "it";
  return (
    <Dialog title={`A cadence for ${called(lead)}`} onClose={onClose}>
      {sheet && begins.length === 0 && (
        <p>It can begin none now: it is in them already, or waits for an answer. Cadences stand in Set-up.</p>
      )}
      <form
        className={dialogs.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (unclear || !cadenceId) return;
          act.mutate({
            leadId: lead.id,
            act: "cadences",
            body: { cadenceId, ...(at && { startAt: new Date(at).toISOString() }) },
            said: `“${name}” ${at ? `begins ${bothTimes(at, theirZone, zone, now)}` : "has begun"}.`,
          });
          onClose();
        }}
      >
        <Choice
          label="Cadence"
          value={cadenceId}
          options={begins.map((c) => ({ value: c.id, label: c.name }))}
          onChange={choose}
        />
        <Field
          label="Begins (their time)"
          placeholder="now; or: monday, in 3 days"
          value={words}
          error={unclear ? "Not understood. Write it like “monday” or “in 3 days”." : undefined}
          help={at ? `That is ${bothTimes(at, theirZone, zone, now)}.` : undefined}
          onChange={(e) => setWords(e.target.value)}
        />
        <div className={dialogs.send}>
          <Button type="submit" look="strong" disabled={unclear || !cadenceId}>
            Start
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

const TITLES = {
  pause: "Pause",
  move: "Move the next touch of",
  skip: "Leave out the next touch of",
  stop: "Stop",
} as const;

function SteerDialog({
  sheet,
  zone,
  line,
  what,
  onClose,
}: DialogProps & { readonly line: Line; readonly what: "pause" | "move" | "stop" | "skip" }) {
  const act = useAct();
  const [words, setWords] = useState("");
  const [reason, setReason] = useState("");
  const now = deskNow();
  const { theirZone, lead } = sheet;
  const timed = what === "pause" || what === "move";
  const at = words
    ? readWhen(words, now, theirZone, lead.customer ? Date.parse(lead.customer.since) : null)
    : null;
  const unclear = words !== "" && at === null;
  const ready = !unclear && (what !== "move" || at !== null);
  const iso = at === null ? null : new Date(at).toISOString();
  const said = {
    pause: `“${line.name}” pauses${at ? ` until ${bothTimes(at, theirZone, zone, now)}` : ""}.`,
    move: at ? `It goes ${bothTimes(at, theirZone, zone, now)}.` : "",
    skip: "The next touch is left out.",
    stop: `“${line.name}” has stopped.`,
  }[what];
  return (
    <Dialog title={`${TITLES[what]} “${line.name}”`} onClose={onClose}>
      <form
        className={dialogs.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (!ready) return;
          const body =
            what === "move"
              ? { do: what, at: iso! }
              : what === "pause"
                ? { do: what, until: iso }
                : { do: what };
          act.mutate({
            leadId: lead.id,
            act: "cadences/[run]",
            run: line.runId,
            body: { ...body, ...(reason && { reason }) },
            said,
          });
          onClose();
        }}
      >
        {timed && (
          <Field
            label={what === "pause" ? "Until (their time)" : "To (their time)"}
            placeholder={
              what === "pause" ? "until I say so; or: next monday, in 2 weeks" : "tomorrow 10, next monday"
            }
            value={words}
            error={unclear ? "Not understood. Write it like “next monday” or “in 2 weeks”." : undefined}
            help={at ? `That is ${bothTimes(at, theirZone, zone, now)}.` : undefined}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
        <Field label="Why, for the thread" value={reason} onChange={(e) => setReason(e.target.value)} />
        <div className={dialogs.send}>
          <Button type="submit" look="strong" disabled={!ready}>
            {{ pause: "Pause", move: "Move it", skip: "Leave it out", stop: "Stop it" }[what]}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
