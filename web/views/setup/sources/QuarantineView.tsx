import { useState } from "react";
import { dayTime } from "../../../../core/time/words.ts";
import { useNow } from "../../../live/clock.ts";
import { useQueue } from "../../../live/queries.ts";
import { useChange, useQuarantine, useSources } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import type { Quarantined } from "../../../wire/schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";

/** What arrived and could not be understood yet: kept, with the reason, until it is mended. */
export function QuarantineView() {
  return (
    <SetupFrame place="Quarantine">
      <Quarantine />
    </SetupFrame>
  );
}

function Quarantine() {
  const { data: waiting, error } = useQuarantine();
  const replayAll = useChange();
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!waiting) return <p className={styles.quiet}>Looking …</p>;
  return (
    <>
      <div className={styles.top}>
        <h1>Quarantine</h1>
        {waiting.length > 1 && (
          <Button
            look="strong"
            disabled={replayAll.isPending}
            onClick={() =>
              replayAll.mutate({
                call: "POST /quarantine/replay",

                said: ({ tried, understood }) =>
                  understood === 0
                    ? `None of the ${tried} can be understood yet. Mend a mapping first.`
                    : `${understood} of ${tried} are leads now.`,
              })
            }
          >
            Replay all {waiting.length}
          </Button>
        )}
      </div>
      <p className={styles.intro}>
        What arrived and could not be understood, or looked like a robot’s. Nothing here is lost: mend the
        mapping and replay, or make a lead of it as it is.
      </p>
      {waiting.length === 0 ? (
        <Empty title="Nothing waits here">What can’t be understood will stand here with the reason.</Empty>
      ) : (
        waiting.map((one) => <Held key={one.id} one={one} />)
      )}
    </>
  );
}

function Held({ one }: { readonly one: Quarantined }) {
  const now = useNow();
  const { data: queue } = useQueue();
  const { data: sources = [] } = useSources();
  const [open, setOpen] = useState(false);
  const replay = useChange();
  const source = sources.find((s) => s.id === one.sourceId);
  const again = (insisted: boolean) =>
    replay.mutate({
      call: "POST /quarantine/[id]/replay",
      params: { id: one.id },
      query: { insisted: insisted ? "true" : null },
      said: ({ quarantined, reason }) =>
        quarantined ? `It stays here. ${reason ?? ""}` : "It is a lead now, answered and routed.",
    });
  // What could be read but was held back can be insisted on; what can't be read needs its mapping mended.
  return (
    <article className={styles.mapRow} style={{ gridTemplateColumns: "minmax(0, 1fr) auto" }}>
      <div>
        <b>
          {source ? (
            <a data-row href={`/setup/sources/${source.key}?tab=mapping`}>
              {source.name}
            </a>
          ) : (
            one.sourceId
          )}
        </b>{" "}
        <span className={styles.quiet}>{dayTime(Date.parse(one.receivedAt), queue?.zone ?? "UTC", now)}</span>
        <p>{one.reason}</p>
      </div>
      <div className={styles.row}>
        <Button look="bare" aria-expanded={open} onClick={() => setOpen(!open)}>
          What came
        </Button>
        {one.insistable && <Button onClick={() => again(true)}>Make a lead of it</Button>}
        <Button disabled={replay.isPending} onClick={() => again(false)}>
          Replay
        </Button>
      </div>
      {open && (
        <div className={styles.more}>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard */}
          <pre className={styles.code} tabIndex={0}>
            {one.raw || "(empty)"}
          </pre>
          <a href={`/api/v1/inquiries/${one.id}/original`}>Download the original</a>
        </div>
      )}
    </article>
  );
}
