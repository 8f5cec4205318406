import { useState } from "react";
import { dateTime } from "../../../../core/time/words.ts";
import { deskNow } from "../../../live/clock.ts";
import { useQueue } from "../../../live/queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { useDeliveries, useHooks } from "../../../live/stage-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Copy } from "../../../ui/Copy.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { DeliveryRow, HooksSetup, SaveHook } from "../../../wire/customer-schemas.ts";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Hooks.module.css";

/** Other systems that are told of what happens, by signed webhooks. */
export function HooksView() {
  return (
    <SetupFrame place="Other systems">
      <Hooks />
    </SetupFrame>
  );
}

const EMPTY: SaveHook = { name: "", url: "https://", events: ["lead.handed-over"], on: true };

function Hooks() {
  const { data, error } = useHooks();
  const change = useChange();
  const [open, setOpen] = useState<SaveHook | null>(null);
  const [secret, setSecret] = useState<string | null>(null);
  const [refused, setRefused] = useState("");
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data) return <p className={setup.quiet}>Looking …</p>;
  const save = async (hook: SaveHook) => {
    setRefused("");
    try {
      const saved = await change.mutateAsync({
        call: "POST /setup/hooks",
        body: hook,
        said: hook.remove ? "It is told no more." : "In force from now on.",
      });
      setOpen(null);
      setSecret(saved.secret);
    } catch (problem) {
      setRefused(problem instanceof Error ? problem.message : String(problem));
    }
  };
  return (
    <>
      <h1>Other systems</h1>
      <p className={setup.intro}>
        They are told as it happens, by a signed message over HTTPS (Standard Webhooks). What does not arrive
        is tried again with growing pauses.
      </p>
      {secret && (
        <p className={styles.secret} role="status">
          The secret to check our signature by, shown this once: <code>{secret}</code>{" "}
          <Copy text={secret} label="The secret" />
        </p>
      )}
      {data.hooks.length === 0 && (
        <Empty title="No other system is told">
          Add one, and it hears of every lead that is handed over.
        </Empty>
      )}
      <ul className={styles.hooks}>
        {data.hooks.map((hook) => (
          <li key={hook.id}>
            <b>{hook.name}</b> <span className={setup.quiet}>{hook.url}</span>
            <p className={setup.quiet}>
              {hook.on ? "" : "Off. "}
              {hook.events.map((key) => data.events.find((e) => e.key === key)?.name ?? key).join(", ")}
            </p>
            <p className={setup.row}>
              <Button
                onClick={() =>
                  setOpen({ id: hook.id, name: hook.name, url: hook.url, events: hook.events, on: hook.on })
                }
              >
                Change
              </Button>
              <Button
                onClick={() =>
                  change.mutate({
                    call: "POST /setup/hooks/[id]/test",
                    params: { id: hook.id },
                    said: "A test is on its way: see below what it answers.",
                  })
                }
              >
                Test
              </Button>
              <Button
                look="bare"
                onClick={() =>
                  void save({
                    id: hook.id,
                    name: hook.name,
                    url: hook.url,
                    events: hook.events,
                    remove: true,
                  })
                }
              >
                Remove
              </Button>
            </p>
          </li>
        ))}
      </ul>
      <Button onClick={() => setOpen(EMPTY)}>Add a system</Button>
      <Deliveries />
      {open && (
        <HookDialog
          hook={open}
          data={data}
          refused={refused}
          onClose={() => setOpen(null)}
          onSave={(h) => void save(h)}
        />
      )}
    </>
  );
}

function HookDialog({
  hook,
  data,
  refused,
  onSave,
  onClose,
}: {
  readonly hook: SaveHook;
  readonly data: HooksSetup;
  readonly refused: string;
  readonly onSave: (hook: SaveHook) => void;
  readonly onClose: () => void;
}) {
  const [draft, setDraft] = useState(hook);
  const put = (change: Partial<SaveHook>) => setDraft({ ...draft, ...change });
  return (
    <Dialog title={hook.id ? `Change ${hook.name}` : "Another system"} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          onSave(draft);
        }}
      >
        {refused && <p role="alert">{refused}</p>}
        <Field label="Name" value={draft.name} onChange={(e) => put({ name: e.target.value })} />
        <Field label="Address" type="url" value={draft.url} onChange={(e) => put({ url: e.target.value })} />
        <fieldset className={setup.plain}>
          <legend>It is told of</legend>
          {data.events.map(({ key, name }) => (
            <label key={key} className={setup.check}>
              <input
                type="checkbox"
                checked={draft.events.includes(key)}
                onChange={(e) =>
                  put({
                    events: e.target.checked ? [...draft.events, key] : draft.events.filter((k) => k !== key),
                  })
                }
              />
              {name}
            </label>
          ))}
        </fieldset>
        <Field
          label={hook.id ? "A new secret (can be left out)" : "Secret (one is made when left out)"}
          placeholder="whsec_…"
          value={draft.secret ?? ""}
          onChange={(e) => put({ secret: e.target.value || undefined })}
        />
        <label className={setup.check}>
          <input type="checkbox" checked={draft.on ?? true} onChange={(e) => put({ on: e.target.checked })} />
          On
        </label>
        <Button type="submit" look="strong" disabled={!draft.name?.trim()}>
          Save
        </Button>
      </form>
    </Dialog>
  );
}

const STATES = { queued: "waits", delivered: "taken", dead: "given up" } as const;

/** What was told, and what each system answered. */
function Deliveries() {
  const { data = [] } = useDeliveries();
  const { data: queue } = useQueue();
  const change = useChange();
  if (data.length === 0) return null;
  const zone = queue?.zone ?? "UTC";
  const when = (row: DeliveryRow) => dateTime(Date.parse(row.at), zone, deskNow());
  return (
    <section aria-label="What was told">
      <h2>What was told</h2>
      <ul className={styles.deliveries}>
        {data.map((row) => (
          <li key={row.id} data-state={row.state}>
            <details>
              <summary>
                {when(row)} · {row.hook} · {row.event}: {STATES[row.state]}
                {row.status !== null && `, answered ${row.status}`}
                {row.attempts > 1 && `, ${row.attempts} times tried`}
              </summary>
              <pre>{row.body}</pre>
              {row.said && <pre>{row.said}</pre>}
              {row.state !== "queued" && (
                <Button
                  onClick={() =>
                    change.mutate({
                      call: "POST /hooks/deliveries/[id]/resend",
                      params: { id: row.id },
                      said: "It goes again.",
                    })
                  }
                >
                  Send again
                </Button>
              )}
            </details>
          </li>
        ))}
      </ul>
    </section>
  );
}
