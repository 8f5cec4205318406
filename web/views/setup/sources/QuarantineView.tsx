import { useState } from "react";
import { duration } from "../../../../core/time/words.ts";
import { call } from "../../../live/api.ts";
import { useNow } from "../../../live/clock.ts";
import { useChange, useQuarantine, useSources } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Menu } from "../../../ui/Menu.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { Quarantined } from "../../../wire/schemas.ts";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { CorrectDialog } from "./CorrectDialog.tsx";
import styles from "./Quarantine.module.css";

/** What arrived and could not be understood yet: kept, with the reason, until somebody sees to it. */
export function QuarantineView() {
  return (
    <SetupFrame place="Quarantine">
      <Quarantine />
    </SetupFrame>
  );
}

const inquiries = (n: number) => (n === 1 ? "One inquiry" : `${n} inquiries`);

/** What is done with many, and what is said of it. */
function useMany() {
  const change = useChange();
  const say = useSay();
  const many = (ids: readonly string[], act: "replay" | "take" | "dismiss", after: () => void) =>
    change.mutate({
      call: "POST /quarantine/many",
      body: { ids: [...ids], act },
      said: ({ done, left }) => {
        if (act === "dismiss") return "";
        const taken = done === 0 ? "None is a lead yet." : `${inquiries(done)} taken in.`;
        return left === 0
          ? taken
          : `${taken} ${left === 1 ? "One stays" : `${left} stay`} here, with the reason.`;
      },
      after: ({ done }) => {
        if (act === "dismiss")
          say.done(`${inquiries(done)} set aside: no inquiry.`, () => {
            void call("POST /quarantine/many", { body: { ids: [...ids], act: "put-back" } });
          });
        after();
      },
    });
  return { many, isPending: change.isPending };
}

function Quarantine() {
  const [sourceId, setSource] = useState("");
  const { data, error, hasNextPage, fetchNextPage } = useQuarantine(sourceId);
  const { data: sources = [] } = useSources();
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const [asked, setAsked] = useState<Quarantined | null>(null);
  const { many, isPending } = useMany();
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data) return <p className={setup.quiet}>Looking …</p>;
  const items = data.pages.flatMap((page) => page.items);
  const chosen = items.filter((one) => marked.has(one.id));
  const ids = chosen.map((one) => one.id);
  const all = items.length > 0 && chosen.length === items.length;
  const clear = () => setMarked(new Set());
  return (
    <>
      <h1>Quarantine</h1>
      <p className={setup.intro}>
        What arrived and could not be understood, or looked like a robot’s. Nothing here is lost. Correct what
        was read and take it in, take it in as it is, or say that it is no inquiry.
      </p>
      {items.length === 0 && sourceId === "" ? (
        <Empty title="Nothing waits here">What can’t be understood will stand here with the reason.</Empty>
      ) : (
        <>
          <div className={styles.bar}>
            <label className={styles.all}>
              <input
                type="checkbox"
                checked={all}
                onChange={() => setMarked(all ? new Set() : new Set(items.map((one) => one.id)))}
              />
              {chosen.length === 0 ? "Mark all" : `${chosen.length} marked`}
            </label>
            {chosen.length > 0 && (
              <>
                <Button disabled={isPending} onClick={() => many(ids, "take", clear)}>
                  Take in as they are
                </Button>
                <Button disabled={isPending} onClick={() => many(ids, "dismiss", clear)}>
                  No inquiries
                </Button>
                <Button disabled={isPending} onClick={() => many(ids, "replay", clear)}>
                  Try again
                </Button>
              </>
            )}
            <Choice
              label="Source"
              quiet
              value={sourceId}
              options={[
                { value: "", label: "every source" },
                ...sources.map((s) => ({ value: s.id, label: s.name })),
              ]}
              onChange={(id) => {
                setSource(id);
                clear();
              }}
            />
          </div>
          {items.length === 0 && <p className={setup.quiet}>Nothing of this source waits.</p>}
          <ul className={styles.list}>
            {items.map((one) => (
              <Held
                key={one.id}
                one={one}
                marked={marked.has(one.id)}
                onMark={() => {
                  const next = new Set(marked);
                  if (!next.delete(one.id)) next.add(one.id);
                  setMarked(next);
                }}
                onCorrect={() => setAsked(one)}
              />
            ))}
          </ul>
          {hasNextPage && <Button onClick={() => void fetchNextPage()}>Show more</Button>}
        </>
      )}
      {asked && <CorrectDialog one={asked} onClose={() => setAsked(null)} />}
    </>
  );
}

interface HeldProps {
  readonly one: Quarantined;
  readonly marked: boolean;
  readonly onMark: () => void;
  readonly onCorrect: () => void;
}

/** Who somebody is called by, as they wrote it. */
export const seemsToBe = ({ seems }: Quarantined): string =>
  seems.name ?? seems.company ?? seems.phone ?? seems.email ?? "Nobody can be made out";

function Held({ one, marked, onMark, onCorrect }: HeldProps) {
  const now = useNow();
  const { data: sources = [] } = useSources();
  const { many, isPending } = useMany();
  const { seems } = one;
  const source = sources.find((s) => s.id === one.sourceId);
  const who = seemsToBe(one);
  const ways = [seems.phone, seems.email, seems.company].filter((way) => way && way !== who);
  const only = (act: "replay" | "take" | "dismiss") => () => many([one.id], act, () => {});
  return (
    <li className={styles.held}>
      <input type="checkbox" aria-label={`Mark ${who}`} checked={marked} onChange={onMark} />
      <div className={styles.what}>
        <p>
          <button type="button" data-row className={styles.who} onClick={onCorrect}>
            {who}
          </button>{" "}
          <span className={setup.quiet}>{[...ways, seems.product].filter(Boolean).join(" · ")}</span>
        </p>
        {seems.message && <p className={styles.message}>“{seems.message}”</p>}
        <p className={styles.reason}>{one.reason}</p>
        <p className={setup.quiet}>
          {source?.name ?? one.sourceId}, {duration(Math.max(0, now - Date.parse(one.receivedAt)))} ago
        </p>
      </div>
      <div className={styles.acts}>
        <Button aria-label={`Correct and take in: ${who}`} onClick={onCorrect}>
          Correct and take in
        </Button>
        <Button disabled={isPending} aria-label={`No inquiry: ${who}`} onClick={only("dismiss")}>
          No inquiry
        </Button>
        <Menu
          label="More"
          items={[
            ...(one.insistable
              ? [{ label: "Take it in as it is", hint: "Whatever speaks against it", run: only("take") }]
              : []),
            { label: "Try again", hint: "By the mapping as it is now", run: only("replay") },
            ...(source
              ? [
                  {
                    label: "Mend the mapping",
                    hint: source.name,
                    run: () => location.assign(`/setup/sources/${source.key}?tab=mapping`),
                  },
                ]
              : []),
            {
              label: "Download the original",
              run: () => location.assign(`/api/v1/inquiries/${one.id}/original`),
            },
          ]}
        />
      </div>
    </li>
  );
}
