import { useState } from "react";
import { dateTime } from "../../../../core/time/words.ts";
import { deskNow } from "../../../live/clock.ts";
import { useQueue } from "../../../live/queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { useDeliveries, useHooks } from "../../../live/stage-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { ConditionEditor } from "../../../ui/ConditionEditor.tsx";
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
        is tried again with growing pauses for three days, what happened to one lead always in its order; then
        it is put aside. For ninety days one can look at what was sent, and send it again.
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
          <HookRow
            key={hook.id}
            hook={hook}
            data={data}
            onOpen={() => setOpen(savedAs(hook))}
            onSecret={setSecret}
            onRemove={() => void save({ ...savedAs(hook), remove: true })}
          />
        ))}
      </ul>
      <Button onClick={() => setOpen(EMPTY)}>Add a system</Button>
      <Deliveries hooks={data.hooks} />
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

type Shown = HooksSetup["hooks"][number];

/** A system as it is saved: without what only the desk knows of it. */
const savedAs = ({ id, name, url, events, trait, when, sends, inside, on }: Shown): SaveHook => ({
  id,
  name,
  url,
  events,
  trait,
  when,
  sends,
  inside,
  on,
});

interface RowProps {
  readonly hook: Shown;
  readonly data: HooksSetup;
  readonly onOpen: () => void;
  readonly onSecret: (secret: string | null) => void;
  readonly onRemove: () => void;
}

/** One system: where it stands, what it hears, and how it does. */
function HookRow({ hook, data, onOpen, onSecret, onRemove }: RowProps) {
  const change = useChange();
  const { data: queue } = useQueue();
  const params = { id: hook.id };
  const named = hook.events.map((key) => data.events.find((e) => e.key === key)?.name ?? key);
  const trait = data.traits.find((t) => t.key === hook.trait && t.key !== "none");
  const does = [
    hook.waiting > 0 && `${hook.waiting.toLocaleString("en")} wait`,
    hook.aside > 0 && `${hook.aside.toLocaleString("en")} put aside`,
  ].filter(Boolean);
  return (
    <li>
      <b>{hook.name}</b> <span className={setup.quiet}>{hook.url}</span>
      <p className={setup.quiet}>
        {hook.on ? "" : "Off. "}
        {[...named, trait?.name].filter(Boolean).join("; ")}
        {hook.when ? ", of some leads only" : ""}
        {hook.sends && hook.sends.kind !== "whole"
          ? `; sent as ${hook.sends.kind === "fields" ? "chosen fields" : "a template"}`
          : ""}
      </p>
      {does.length > 0 && <p className={hook.aside > 0 ? setup.wrong : setup.quiet}>{does.join(", ")}</p>}
      {hook.bothUntil && (
        <p className={setup.quiet}>
          Two secrets sign until {dateTime(Date.parse(hook.bothUntil), queue?.zone ?? "UTC", deskNow())}.{" "}
          <Button
            look="bare"
            onClick={() =>
              change.mutate({
                call: "POST /setup/hooks/[id]/end-rotation",
                params,
                said: "Only the new secret signs from now on.",
              })
            }
          >
            End it now
          </Button>
        </p>
      )}
      <p className={setup.row}>
        <Button aria-label={`Change ${hook.name}`} onClick={onOpen}>
          Change
        </Button>
        <Button
          aria-label={`Test ${hook.name}`}
          onClick={() =>
            change.mutate({
              call: "POST /setup/hooks/[id]/test",
              params,
              said: "A test is on its way: see below what it answers.",
            })
          }
        >
          Test
        </Button>
        {hook.aside > 0 && (
          <Button
            aria-label={`Send again what ${hook.name} has not taken`}
            onClick={() =>
              change.mutate({
                call: "POST /setup/hooks/[id]/resend",
                params,
                body: { state: "dead" },
                said: ({ queued }) => `${queued.toLocaleString("en")} go again, in their order.`,
              })
            }
          >
            Send again what was put aside
          </Button>
        )}
        <Button
          look="bare"
          aria-label={`Replace the secret of ${hook.name}`}
          onClick={() =>
            change.mutate({
              call: "POST /setup/hooks/[id]/rotate",
              params,
              said: "Enter the new secret at the other side within a day: until then both sign.",
              after: ({ secret }) => onSecret(secret),
            })
          }
        >
          Replace the secret
        </Button>
        <Button look="bare" aria-label={`Remove ${hook.name}`} onClick={onRemove}>
          Remove
        </Button>
      </p>
    </li>
  );
}

const SENDS = [
  { value: "whole", label: "all there is" },
  { value: "fields", label: "chosen fields of the lead" },
  { value: "template", label: "JSON written as a template" },
];
const TEMPLATE = '{"what": {{ type | json }}, "who": {{ data.lead.name | json }}}';

interface DialogProps {
  readonly hook: SaveHook;
  readonly data: HooksSetup;
  readonly refused: string;
  readonly onSave: (hook: SaveHook) => void;
  readonly onClose: () => void;
}

function HookDialog({ hook, data, refused, onSave, onClose }: DialogProps) {
  const [draft, setDraft] = useState(hook);
  const put = (change: Partial<SaveHook>) => setDraft({ ...draft, ...change });
  const toggle = <T,>(list: readonly T[], one: T, on: boolean): T[] =>
    on ? [...list, one] : list.filter((o) => o !== one);
  const sends = draft.sends ?? { kind: "whole" };
  const hears = draft.trait ?? "none";
  return (
    <Dialog title={hook.id ? `Change ${hook.name}` : "Another system"} as="wide" onClose={onClose}>
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
        <label className={setup.check}>
          <input
            type="checkbox"
            checked={draft.inside ?? false}
            onChange={(e) => put({ inside: e.target.checked || undefined })}
          />
          It stands in our own network, and that is meant
        </label>
        <fieldset className={setup.plain}>
          <legend>It is told of</legend>
          {data.events.map(({ key, name }) => (
            <label key={key} className={setup.check}>
              <input
                type="checkbox"
                checked={draft.events.includes(key)}
                onChange={(e) => put({ events: toggle(draft.events, key, e.target.checked) })}
              />
              {name}
            </label>
          ))}
        </fieldset>
        <fieldset className={setup.plain}>
          <legend>What else it hears of leads</legend>
          {data.traits.map(({ key, name }) => (
            <label key={key} className={setup.check}>
              <input
                type="radio"
                name="trait"
                checked={hears === key}
                onChange={() => put({ trait: key as SaveHook["trait"] })}
              />
              {name}
            </label>
          ))}
        </fieldset>
        <h3>Of which leads</h3>
        <ConditionEditor
          condition={(draft.when ?? null) as Parameters<typeof ConditionEditor>[0]["condition"]}
          catalogue={data.catalogue}
          onChange={(when) => put({ when: when as SaveHook["when"] })}
        />
        <Choice
          label="It is sent"
          value={sends.kind}
          options={SENDS}
          onChange={(kind) =>
            put({
              sends:
                kind === "fields"
                  ? { kind, fields: ["name", "product", "stage"] }
                  : kind === "template"
                    ? { kind, template: TEMPLATE }
                    : undefined,
            })
          }
        />
        {sends.kind === "fields" && (
          <fieldset className={`${setup.plain} ${styles.fields}`}>
            <legend>Fields</legend>
            {data.fields.map(({ key, name }) => (
              <label key={key} className={setup.check}>
                <input
                  type="checkbox"
                  checked={sends.fields.includes(key)}
                  onChange={(e) =>
                    put({ sends: { kind: "fields", fields: toggle(sends.fields, key, e.target.checked) } })
                  }
                />
                {name}
              </label>
            ))}
          </fieldset>
        )}
        {sends.kind === "template" && (
          <label className={styles.template}>
            Template
            <textarea
              rows={6}
              spellCheck={false}
              value={sends.template}
              onChange={(e) => put({ sends: { kind: "template", template: e.target.value } })}
            />
            <span className={setup.quiet}>
              Liquid over what “all there is” sends; <code>| json</code> puts the quotes.
            </span>
          </label>
        )}
        <Field
          label={hook.id ? "A new secret, at once (can be left out)" : "Secret (one is made when left out)"}
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

const STATES = { queued: "waits", delivered: "taken", dead: "put aside" } as const;

const ANY = [
  { value: "", label: "whatever became of it" },
  { value: "queued", label: "what waits" },
  { value: "delivered", label: "what was taken" },
  { value: "dead", label: "what was put aside" },
];

/** What was told, and what each system answered. */
function Deliveries({ hooks }: { readonly hooks: readonly Shown[] }) {
  const [hook, setHook] = useState("");
  const [state, setState] = useState("");
  const { data, hasNextPage, fetchNextPage, isFetchingNextPage } = useDeliveries(hook, state);
  const { data: queue } = useQueue();
  const change = useChange();
  const rows = data?.pages.flatMap((p) => p.items) ?? [];
  if (rows.length === 0 && !hook && !state) return null;
  const zone = queue?.zone ?? "UTC";
  const when = (row: DeliveryRow) => dateTime(Date.parse(row.at), zone, deskNow());
  return (
    <section aria-label="What was told">
      <h2>What was told</h2>
      <div className={setup.row}>
        <Choice
          label="To"
          value={hook}
          options={[
            { value: "", label: "all systems" },
            ...hooks.map((h) => ({ value: h.id, label: h.name })),
          ]}
          onChange={setHook}
        />
        <Choice label="Of it" value={state} options={ANY} onChange={setState} />
      </div>
      {rows.length === 0 && <p className={setup.quiet}>Nothing of that.</p>}
      <ul className={styles.deliveries}>
        {rows.map((row) => (
          <li key={row.id} data-state={row.state}>
            <details>
              <summary>
                {when(row)} · {row.hook} · {row.event}: {STATES[row.state]}
                {row.status !== null && `, answered ${row.status}`}
                {row.attempts > 1 && `, ${row.attempts} times tried`}
                {row.state !== "delivered" && row.status === null && row.said && `: ${row.said.slice(0, 80)}`}
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
      {hasNextPage && (
        <Button disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          Earlier
        </Button>
      )}
    </section>
  );
}
