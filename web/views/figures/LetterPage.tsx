import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { LETTER_PARTS, type LetterPartKey } from "../../../core/policy/letter.ts";
import { dateTime } from "../../../core/time/words.ts";
import { call } from "../../live/api.ts";
import { deskNow } from "../../live/clock.ts";
import { useLetter, useLetterPreview } from "../../live/figure-queries.ts";
import { useMe, useQueue } from "../../live/queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Field } from "../../ui/Field.tsx";
import { Sortable, useGrip } from "../../ui/Sortable.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Letter } from "../../wire/figure-schemas.ts";
import styles from "./LetterPage.module.css";

const DAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"].map(
  (label, i) => ({
    value: String(i + 1),
    label,
  }),
);
const ALL = Object.keys(LETTER_PARTS) as LetterPartKey[];

/** The weekly letter of figures: composed by choosing, seen as it will arrive, sent by itself. */
export function LetterPage() {
  const { data, error } = useLetter();
  if (error && !data) return <p role="alert">{error.message}</p>;
  if (!data) return <p className={styles.loading}>Reading …</p>;
  return <Composed kept={data} />;
}

/** The letter with what was just chosen, and how to choose: it is shown at once, and kept behind it in order. */
function useComposed(kept: Letter) {
  const client = useQueryClient();
  const say = useSay();
  const [chosen, setChosen] = useState<Partial<Letter>>({});
  const data = { ...kept, ...chosen };
  const save = useMutation({
    // One after the other: each carries the whole letter.
    scope: { id: "letter" },
    mutationFn: ({ letter: { on, weekday, time, to, parts } }: { letter: Letter; said: string }) =>
      call("POST /figures/letter", { body: { on, weekday, time, to, parts } }),
    onSuccess: (letter, { said }) => {
      client.setQueryData(["letter"], letter);
      if (said) say.done(said);
    },
    onError: (error) => say.wrong(error.message),
    onSettled: () => {
      if (client.isMutating({ mutationKey: ["letter"] }) === 1) setChosen({});
    },
    mutationKey: ["letter"],
  });
  const put = (part: Partial<Letter>, said: string) => {
    setChosen({ ...chosen, ...part });
    save.mutate({ letter: { ...data, ...part }, said });
  };
  return { data, put };
}

function Composed({ kept }: { readonly kept: Letter }) {
  const { data: me } = useMe();
  const { data: queue } = useQueue();
  const { data, put } = useComposed(kept);
  const send = useChange();
  const may = me?.rights.includes("setup.change") ?? false;
  // Whoever may not change it chooses for the one they have sent to themselves.
  const [own, setOwn] = useState<readonly LetterPartKey[] | null>(null);
  const parts = (may ? data.parts : (own ?? data.parts)) as LetterPartKey[];
  const putParts = (next: LetterPartKey[]) => (may ? put({ parts: next }, "") : setOwn(next));
  const sentTo = (to: "me" | "all") =>
    send.mutate({
      call: "POST /figures/letter/send",
      body: { parts, to },
      said: ({ sent }) =>
        sent === 0
          ? "There is nobody to send it to."
          : to === "me"
            ? "Sent to you."
            : `Sent to ${sent} ${sent === 1 ? "person" : "people"}.`,
    });
  return (
    <div className={styles.letter}>
      <div className={styles.choices}>
        <p className={styles.state} role="status">
          {data.on && data.nextAt && queue
            ? `It goes out ${dateTime(Date.parse(data.nextAt), queue.zone, deskNow())} to ${
                data.readers.map((r) => r.name).join(", ") || "nobody: no manager has a mail address"
              }.`
            : "It is not sent by itself."}
        </p>
        {may && (
          <>
            <label className={styles.tick}>
              <input
                type="checkbox"
                checked={data.on}
                onChange={(e) =>
                  put(
                    { on: e.target.checked },
                    e.target.checked ? "It goes out every week." : "It is no longer sent by itself.",
                  )
                }
              />
              Sent every week
            </label>
            <div className={styles.when}>
              <Choice
                label="On"
                value={String(data.weekday)}
                options={DAYS}
                onChange={(v) => put({ weekday: Number(v) }, "Kept.")}
              />
              <Time value={data.time} onChange={(time) => put({ time }, "Kept.")} />
            </div>
            <To data={data} onChange={(to) => put({ to }, "Kept.")} />
          </>
        )}
        <Parts chosen={parts} onChange={putParts} />
        <div className={styles.acts}>
          <Button disabled={parts.length === 0 || send.isPending} onClick={() => sentTo("me")}>
            Send me one now
          </Button>
          {may && data.readers.length > 0 && (
            <Button look="bare" disabled={parts.length === 0 || send.isPending} onClick={() => sentTo("all")}>
              Send it to all {data.readers.length}
            </Button>
          )}
        </div>
      </div>
      <Preview parts={parts} />
    </div>
  );
}

/** Kept when one goes on: half a time is none. */
function Time({ value, onChange }: { readonly value: string; readonly onChange: (time: string) => void }) {
  const [typed, setTyped] = useState(value);
  return (
    <Field
      label="At"
      type="time"
      required
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => {
        if (typed && typed !== value) onChange(typed);
        else setTyped(value);
      }}
    />
  );
}

function To({ data, onChange }: { readonly data: Letter; readonly onChange: (to: string[]) => void }) {
  const isAll = data.to.length === 0;
  return (
    <fieldset className={styles.to}>
      <legend>To</legend>
      <label className={styles.tick}>
        <input
          type="checkbox"
          checked={isAll}
          disabled={isAll && data.mayGet.length === 0}
          onChange={(e) => {
            const managers = data.readers.map((r) => r.id);
            const first = managers.length > 0 ? managers : data.mayGet.slice(0, 1).map((r) => r.id);
            onChange(e.target.checked ? [] : first);
          }}
        />
        every manager
      </label>
      {!isAll &&
        data.mayGet.map(({ id, name }) => (
          <label key={id} className={styles.tick}>
            <input
              type="checkbox"
              checked={data.to.includes(id)}
              onChange={(e) =>
                onChange(e.target.checked ? [...data.to, id] : data.to.filter((o) => o !== id))
              }
            />
            {name}
          </label>
        ))}
    </fieldset>
  );
}

function Parts({
  chosen,
  onChange,
}: {
  readonly chosen: readonly LetterPartKey[];
  readonly onChange: (parts: LetterPartKey[]) => void;
}) {
  const left = ALL.filter((key) => !chosen.includes(key));
  return (
    <fieldset className={styles.parts}>
      <legend>What it tells</legend>
      <Sortable items={chosen} idOf={(key) => key} nameOf={(key) => LETTER_PARTS[key].name} onMove={onChange}>
        <ul>
          {chosen.map((key) => (
            <Part key={key} part={key} onTake={() => onChange(chosen.filter((k) => k !== key))} />
          ))}
        </ul>
      </Sortable>
      {left.length > 0 && (
        <ul>
          {left.map((key) => (
            <li key={key}>
              <Told part={key} isIn={false} onChange={() => onChange([...chosen, key])} />
            </li>
          ))}
        </ul>
      )}
    </fieldset>
  );
}

function Part({ part, onTake }: { readonly part: LetterPartKey; readonly onTake: () => void }) {
  const { ref, style, grip } = useGrip(part, LETTER_PARTS[part].name);
  return (
    <li ref={ref} style={style}>
      <Told part={part} isIn onChange={onTake} />
      {grip}
    </li>
  );
}

function Told({
  part,
  isIn,
  onChange,
}: {
  readonly part: LetterPartKey;
  readonly isIn: boolean;
  readonly onChange: () => void;
}) {
  const { name, about } = LETTER_PARTS[part];
  return (
    <label className={styles.tick}>
      <input type="checkbox" checked={isIn} onChange={onChange} />
      <span>
        {name}
        <small>{about}</small>
      </span>
    </label>
  );
}

/** The letter as it would arrive now. */
function Preview({ parts }: { readonly parts: readonly LetterPartKey[] }) {
  const { data, error, isFetching } = useLetterPreview(parts);
  const [isText, setText] = useState(false);
  if (parts.length === 0) return <p className={styles.note}>Choose what it tells, one part at least.</p>;
  if (error && !data) return <p role="alert">{error.message}</p>;
  if (!data) return <p className={styles.loading}>Writing it …</p>;
  return (
    <section className={styles.preview} aria-label="The letter as it would arrive now" aria-busy={isFetching}>
      <p className={styles.subject}>
        <strong>{data.subject}</strong>
        <Button look="bare" onClick={() => setText(!isText)}>
          {isText ? "As it looks" : "As plain text"}
        </Button>
      </p>
      {isText ? (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard.
        <pre className={styles.text} tabIndex={0}>
          {data.text}
        </pre>
      ) : (
        <iframe className={styles.mail} sandbox="" srcDoc={data.html} title="The letter as it arrives" />
      )}
    </section>
  );
}
