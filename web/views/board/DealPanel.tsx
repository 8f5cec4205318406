import { type ReactNode, useState } from "react";
import { dateTime, sayDay } from "../../../core/time/words.ts";
import { call } from "../../live/api.ts";
import { useChangeDeal, useDeal } from "../../live/book-queries.ts";
import { deskNow } from "../../live/clock.ts";
import { useMe, useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import { Menu } from "../../ui/Menu.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Deal, DealCard } from "../../wire/customer-schemas.ts";
import { BookThread } from "../customers/BookThread.tsx";
import styles from "./DealPanel.module.css";
import { sayExact } from "./lanes.ts";

/** Everything about one deal, and what can be done with it. */
export function DealPanel({
  id,
  onClose,
  onMove,
}: {
  readonly id: string;
  readonly onClose: () => void;
  readonly onMove: (deal: DealCard, stage: string) => void;
}) {
  const { data: deal, error } = useDeal(id);
  return (
    <section className={styles.panel} aria-label="Deal">
      <div className={styles.top}>
        <Button look="bare" onClick={onClose}>
          Close
        </Button>
      </div>
      {error && !deal && (
        <Empty title="This deal can't be shown">
          <p>{error.message}</p>
        </Empty>
      )}
      {!deal && !error && <p className={styles.quiet}>Looking it up …</p>}
      {deal && <Whole key={deal.id} deal={deal} onMove={onMove} />}
    </section>
  );
}

function Whole({
  deal,
  onMove,
}: {
  readonly deal: Deal;
  readonly onMove: (deal: DealCard, stage: string) => void;
}) {
  const { data: queue } = useQueue();
  const zone = queue?.zone ?? "UTC";
  const change = useChangeDeal();
  const [note, setNote] = useState("");
  const put = (body: Parameters<typeof change.mutate>[0]["body"], said: string) =>
    change.mutate({ id: deal.id, body, said });
  const stage = deal.stages.find((s) => s.key === deal.stage);
  return (
    <>
      <h2>{deal.name}</h2>
      <p className={styles.sub}>
        {deal.company && <a href={`/customers?company=${deal.company.id}`}>{deal.company.name}</a>}
        {deal.company && deal.contact && " · "}
        {deal.contact && <a href={`/customers?contact=${deal.contact.id}`}>{deal.contact.name}</a>}
        {deal.leads[0] && (
          <>
            {" · "}
            <a href={`/?lead=${deal.leads[0].id}`}>the lead</a>
          </>
        )}
      </p>
      <p className={styles.now} data-tone={deal.closed ? "ink" : deal.slips.length > 0 ? "ember" : "tarn"}>
        {deal.closed
          ? `${stage?.name ?? deal.stage}: ${deal.closed.reason}, ${dateTime(Date.parse(deal.closed.at), zone, deskNow())}`
          : `${stage?.name ?? deal.stage} for ${deal.stay}. ${deal.slipSaid.map((s) => `${s[0]?.toUpperCase()}${s.slice(1)}.`).join(" ")}`}
      </p>
      <div className={styles.acts}>
        <Menu
          label={deal.closed ? "Open again in…" : "Move to…"}
          items={deal.stages
            .filter((s) => s.key !== deal.stage)
            .map((s) => ({ label: s.name, run: () => onMove(deal, s.key) }))}
        />
        <SendOn deal={deal} />
      </div>
      <dl className={styles.facts}>
        <Fact name="Value">
          <Inline
            label="Value"
            value={String(deal.value)}
            said={sayExact(deal.value, deal.currency)}
            onPut={(value) => put({ value: value.replace(/[\s,$€£]/g, "") }, "The value is changed.")}
          />
        </Fact>
        <Fact name="Expected">
          <Inline
            label="Expected on"
            type="date"
            value={deal.expectedOn ?? ""}
            said={deal.expectedOn ? sayDay(deal.expectedOn, zone, deskNow()) : "no date yet"}
            onPut={(expectedOn) => put({ expectedOn: expectedOn || null }, "The expected date is changed.")}
          />
        </Fact>
        <Fact name="Owner">
          <Choice
            label="Owner"
            quiet
            value={deal.owner?.id ?? ""}
            options={[
              { value: "", label: "nobody" },
              ...deal.people.map((p) => ({ value: p.id, label: p.name })),
            ]}
            onChange={(ownerId) => put({ ownerId: ownerId || null }, "The owner is changed.")}
          />
        </Fact>
        {deal.source && <Fact name="Came by">{deal.source}</Fact>}
        {Object.entries(deal.theirs).map(([hook, as]) => (
          <Fact key={hook} name={hook}>
            {as}
          </Fact>
        ))}
      </dl>
      <Products deal={deal} onPut={(lines) => put({ lines }, "The products are changed.")} />
      <Steps
        deal={deal}
        zone={zone}
        onStep={(nextStep) =>
          put({ nextStep }, nextStep ? "The next step is set." : "The next step is done.")
        }
        onTask={(doneTask) => put({ doneTask }, "Done.")}
      />
      {deal.estimates.length > 0 && (
        <>
          <h3>Estimates</h3>
          <ul className={styles.list}>
            {deal.estimates.map((e) => (
              <li key={e.id}>
                <a href={`/api/v1/estimates/${e.id}/pdf`} target="_blank" rel="noreferrer">
                  {e.number}
                </a>{" "}
                {sayExact(e.total, deal.currency)}, {e.state}
              </li>
            ))}
          </ul>
        </>
      )}
      <form
        className={styles.note}
        onSubmit={(event) => {
          event.preventDefault();
          if (!note.trim()) return;
          put({ note }, "The note is kept.");
          setNote("");
        }}
      >
        <Area
          label="Note"
          quiet
          rows={2}
          placeholder="A note for colleagues"
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <Button type="submit" disabled={!note.trim()}>
          Keep the note
        </Button>
      </form>
      <h3>What happened</h3>
      <BookThread items={deal.thread} zone={zone} />
    </>
  );
}

function Fact({ name, children }: { readonly name: string; readonly children: ReactNode }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}

/** Said as text until it is pressed; Enter keeps, Escape leaves it as it was. */
function Inline({
  label,
  value,
  said,
  type = "text",
  onPut,
}: {
  readonly label: string;
  readonly value: string;
  readonly said: string;
  readonly type?: "text" | "date";
  readonly onPut: (value: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  if (typed === null)
    return (
      <button
        type="button"
        className={styles.inline}
        onClick={() => setTyped(value)}
        title={`Change: ${label}`}
      >
        {said}
      </button>
    );
  const keep = () => {
    if (typed !== value) onPut(typed);
    setTyped(null);
  };
  return (
    <form
      className={styles.typing}
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        setTyped(null);
      }}
    >
      <Field
        label={label}
        quiet
        type={type}
        autoFocus
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
      <Button type="submit">Keep</Button>
    </form>
  );
}

type Lines = { product: string; quantity: number; price: number }[];

function Products({ deal, onPut }: { readonly deal: Deal; readonly onPut: (lines: Lines) => void }) {
  const lines: Lines = deal.lines.map(({ product, quantity, price }) => ({ product, quantity, price }));
  const changed = (i: number, change: Partial<Lines[number]>) =>
    onPut(lines.map((l, at) => (at === i ? { ...l, ...change } : l)));
  return (
    <>
      <h3>Products</h3>
      <ul className={styles.lines}>
        {deal.lines.map((line, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a product may stand there twice, and lines have no other name
          <li key={i}>
            <span>{line.name}</span>
            <Inline
              label={`How many: ${line.name}`}
              value={String(line.quantity)}
              said={`× ${line.quantity}`}
              onPut={(n) => changed(i, { quantity: Number(n) })}
            />
            <Inline
              label={`Price of one: ${line.name}`}
              value={String(line.price)}
              said={sayExact(line.price, deal.currency)}
              onPut={(p) => changed(i, { price: Number(p.replace(/[\s,$]/g, "")) })}
            />
            <Button look="bare" onClick={() => onPut(lines.filter((_, at) => at !== i))}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {deal.products.length > 0 && (
        <Choice
          label="Add a product"
          quiet
          value=""
          options={[
            { value: "", label: "Add a product …" },
            ...deal.products.map((p) => ({ value: p.key, label: p.name })),
          ]}
          onChange={(product) => {
            const price = deal.products.find((p) => p.key === product)?.value;
            if (price !== undefined) onPut([...lines, { product, quantity: 1, price }]);
          }}
        />
      )}
    </>
  );
}

function Steps({
  deal,
  zone,
  onStep,
  onTask,
}: {
  readonly deal: Deal;
  readonly zone: string;
  readonly onStep: (step: { note: string; dueAt: string } | null) => void;
  readonly onTask: (id: string) => void;
}) {
  const [typed, setTyped] = useState<{ note: string; when: string } | null>(null);
  const [said, setSaid] = useState("");
  const keep = async () => {
    if (!typed) return;
    try {
      const { at } = await call("POST /times/read", { body: { text: typed.when, zone } });
      onStep({ note: typed.note, dueAt: at });
      setTyped(null);
      setSaid("");
    } catch (error) {
      setSaid(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <h3>What comes next</h3>
      {deal.nextStep ? (
        <p className={styles.step}>
          {deal.nextStep.note}, {dateTime(Date.parse(deal.nextStep.dueAt), zone, deskNow())}{" "}
          <Button look="bare" onClick={() => onStep(null)}>
            Done
          </Button>
        </p>
      ) : (
        deal.taskList.length === 0 && <p className={styles.quiet}>Nothing is planned.</p>
      )}
      <ul className={styles.list}>
        {deal.taskList.map((task) => (
          <li key={task.id}>
            {task.note}, {dateTime(Date.parse(task.dueAt), zone, deskNow())}{" "}
            <Button look="bare" onClick={() => onTask(task.id)}>
              Done
            </Button>
          </li>
        ))}
      </ul>
      {typed ? (
        <form
          className={styles.plan}
          onSubmit={(event) => {
            event.preventDefault();
            void keep();
          }}
        >
          <Field
            label="What"
            value={typed.note}
            autoFocus
            onChange={(e) => setTyped({ ...typed, note: e.target.value })}
          />
          <Field
            label="When, in words"
            placeholder="Tuesday at 9, in 3 days"
            value={typed.when}
            error={said || undefined}
            onChange={(e) => setTyped({ ...typed, when: e.target.value })}
          />
          <div className={styles.acts}>
            <Button type="submit" disabled={!typed.note.trim() || !typed.when.trim()}>
              Set
            </Button>
            <Button look="bare" onClick={() => setTyped(null)}>
              Cancel
            </Button>
          </div>
        </form>
      ) : (
        !deal.closed && (
          <Button look="bare" onClick={() => setTyped({ note: "Call about it", when: "tomorrow at 9" })}>
            {deal.nextStep ? "Another next step" : "Plan a next step"}
          </Button>
        )
      )}
    </>
  );
}

/** What other programs get: by webhook once more, or as a file. */
function SendOn({ deal }: { readonly deal: Deal }) {
  const say = useSay();
  const { data: me } = useMe();
  const download = (path: string) => location.assign(path);
  const tell = async () => {
    try {
      const { queued } = await call("POST /deals/[id]/send-on", { id: deal.id });
      say.done(
        queued > 0
          ? `${queued} ${queued === 1 ? "system is" : "systems are"} told.`
          : "No system is set up to be told. An administrator does that under Set-up, Other systems.",
      );
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Menu
      label="Send on"
      items={[
        { label: "Tell other systems", hint: "By webhook, as of a lead handed over", run: () => void tell() },
        { label: "As JSON", run: () => download(`/api/v1/deals/${deal.id}/file`) },
        ...(deal.contact
          ? [
              {
                label: "The contact as a card",
                hint: "vCard, for a phone or a mail program",
                run: () => download(`/api/v1/contacts/${deal.contact?.id}/card`),
              },
            ]
          : []),
        ...(me?.rights.includes("leads.all")
          ? [{ label: "All deals as CSV", run: () => download("/api/v1/deals/table") }]
          : []),
      ]}
    />
  );
}
