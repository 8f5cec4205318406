import { useEffect, useRef, useState } from "react";
import { readablePhone } from "../../../core/contact/readable-phone.ts";
import { called } from "../../../core/lead/called.ts";
import { exchangeLinks } from "../../../core/message/links.ts";
import { plainer, segments } from "../../../core/message/segments.ts";
import { clockTime, dayTime } from "../../../core/time/words.ts";
import { call } from "../../live/api.ts";
import { deskNow, useNow } from "../../live/clock.ts";
import { useDraft } from "../../live/draft.ts";
import { useAct, useMe } from "../../live/queries.ts";
import { Attach, Attached } from "../../ui/Attach.tsx";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { File as Kept } from "../../wire/answering-schemas.ts";
import type { Me, Sheet } from "../../wire/schemas.ts";
import styles from "./Composer.module.css";
import { laterTimes } from "./later.ts";
import { lastSaid } from "./words.ts";

interface Props {
  readonly sheet: Sheet;
  readonly me: Me;
  readonly channel: "text" | "email";
  readonly onDone: () => void;
}

/** How long a message can be called back (s). */
const CALL_BACK = 10;

/** One message being written: from a template or not, now or later, with what stands against it in sight. */
export function Writing({ sheet, me, channel, onDone }: Props) {
  const { lead, theirZone } = sheet;
  const act = useAct();
  const say = useSay();
  const { draft, change, forget } = useDraft(lead.id, channel);
  const [files, setFiles] = useState<readonly Kept[]>([]);
  const [when, setWhen] = useState("now");
  const [own, setOwn] = useState("");
  const body = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    body.current?.focus();
  }, []);
  const now = useNow();
  const words = lead.said?.text ? lastSaid(lead) : null;
  const later = laterTimes(now, theirZone, own);
  const sendAt = when === "now" ? null : (later.find((l) => l.key === when)?.at ?? null);
  const warnings = sheet.warnings[channel];
  const forbidden = warnings.some((w) => w.forbids);
  const to = channel === "text" ? readablePhone(lead.phones[0] ?? "") : lead.emails[0];
  const ready =
    draft.body.trim() !== "" && !act.isPending && !forbidden && (when === "now" || sendAt !== null);
  const send = () => {
    if (!ready) return;
    const what = channel === "text" ? "Text" : "Email";
    const said = sendAt
      ? `${what} to ${called(lead)} goes ${dayTime(sendAt, theirZone, deskNow())}, their time.`
      : `${what} to ${called(lead)} goes in ${CALL_BACK} seconds.`;
    const message = {
      personId: me.id,
      channel,
      body: draft.body,
      anyway: true,
      ...(sendAt ? { sendAt: new Date(sendAt).toISOString() } : { callBackSeconds: CALL_BACK }),
      ...(channel === "email" && draft.subject && { subject: draft.subject }),
      ...(files.length > 0 && { files }),
      ...(draft.templateId && { templateId: draft.templateId }),
    };
    act.mutate(
      {
        leadId: lead.id,
        act: "messages",
        body: message,
        said,
        ...(!sendAt && { undoFor: CALL_BACK * 1000 - 500 }),
      },
      {
        onSuccess: () => {
          forget();
          onDone();
        },
      },
    );
  };
  const insert = async (id: string) => {
    try {
      const merged = await call("GET /leads/[id]/merge", { id: lead.id, query: { template: id } });
      const before = draft.body.trim();
      change({
        body: before ? `${before}\n\n${merged.body}` : merged.body,
        subject: draft.subject || (merged.subject ?? ""),
        templateId: before ? draft.templateId : id,
      });
      body.current?.focus();
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <form
      className={styles.writing}
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) send();
        if (event.key === "Escape") onDone();
      }}
    >
      {words && <p className={styles.answers}>They said: “{words}”</p>}
      {warnings.map(({ said, forbids }) => (
        <p key={said} className={forbids ? styles.forbids : styles.warns} role="note">
          {said}
        </p>
      ))}
      {channel === "email" && (
        <Field
          label="Subject"
          quiet
          placeholder="Subject"
          value={draft.subject}
          onChange={(e) => change({ subject: e.target.value })}
        />
      )}
      <Area
        ref={body}
        label={`${channel === "text" ? "Text" : "Email"} to ${to}`}
        rows={channel === "email" ? 6 : 3}
        value={draft.body}
        onChange={(e) => change({ body: e.target.value })}
      />
      <Attached files={files} onChange={setFiles} />
      <div className={styles.send}>
        <Button type="submit" look="strong" disabled={!ready} shortcut="Ctrl+Enter">
          {when === "now" ? (warnings.length > 0 && !forbidden ? "Send anyway" : "Send") : "Send later"}
        </Button>
        <Choice
          label="When"
          quiet
          value={when}
          options={later.map(({ key, name, at }) => ({
            value: key,
            label: at && key !== "now" ? `${name}, ${clockTime(at, theirZone)} their time` : name,
          }))}
          onChange={setWhen}
        />
        {when === "own" && (
          <Field
            label="At, their time"
            quiet
            type="datetime-local"
            value={own}
            onChange={(e) => setOwn(e.target.value)}
          />
        )}
        <Choice
          label="Template"
          quiet
          value=""
          options={[
            { value: "", label: "From a template …" },
            ...sheet.templates
              .filter((t) => t.channel === channel)
              .map((t) => ({ value: t.id, label: t.name })),
          ]}
          onChange={(id) => id && void insert(id)}
        />
        {channel === "email" && <Attach files={files} onChange={setFiles} />}
        <Button look="bare" onClick={onDone}>
          Close, keep draft
        </Button>
        {channel === "text" ? (
          <Length text={draft.body} onPlainer={() => change({ body: plainer(draft.body) })} />
        ) : (
          <span className={styles.counts}>Kept as you type.</span>
        )}
      </div>
    </form>
  );
}

/** How many messages it is charged as, and what made it long. */
export function Length({ text, onPlainer }: { readonly text: string; readonly onPlainer?: () => void }) {
  const { data: me } = useMe();
  const link = "x".repeat(me?.linkLength ?? 0);
  const { parts, room, culprits, units } = segments(link ? exchangeLinks(text, () => link) : text);
  if (units === 0) return <span className={styles.counts}>Kept as you type.</span>;
  const helps = culprits.length > 0 && plainer(text) !== text;
  return (
    <span className={styles.counts}>
      {parts === 1 ? `1 message, ${room} left` : `${parts} messages, ${room} left in the last`}
      {culprits.length > 0 && `; long because of ${culprits.slice(0, 4).join(" ")}`}
      {helps && onPlainer && (
        <Button look="bare" onClick={onPlainer}>
          Make it plain
        </Button>
      )}
    </span>
  );
}
