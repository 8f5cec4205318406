import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { dayTime } from "../../../core/time/words.ts";
import { call } from "../../live/api.ts";
import { useNow } from "../../live/clock.ts";
import { useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice, type Option } from "../../ui/Choice.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import { Tabs } from "../../ui/Tabs.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Receipt } from "../../wire/schemas.ts";
import styles from "./Rehearsal.module.css";

const MOVES = [
  { name: "1 min", advance: "PT1M" },
  { name: "5 min", advance: "PT5M" },
  { name: "15 min", advance: "PT15M" },
  { name: "1 h", advance: "PT1H" },
  { name: "1 day", advance: "P1D" },
] as const;

/** Move time forward: every timer runs at its own moment. */
export function Time() {
  const now = useNow();
  const say = useSay();
  const { data: queue } = useQueue();
  const [moving, setMoving] = useState(false);
  const move = async (advance: string) => {
    setMoving(true);
    try {
      const { timersRun } = await call("POST /rehearsal/clock", { body: { advance } });
      say.done(
        timersRun === 0
          ? "Time moved; nothing was due."
          : `Time moved; ${timersRun} ${timersRun === 1 ? "thing" : "things"} fell due and ran.`,
      );
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
    setMoving(false);
  };
  return (
    <section className={styles.time} aria-label="Time">
      <p>
        At the desk it is <b>{queue ? dayTime(now, queue.zone, now).replace("today ", "") : "…"}</b>
        {queue && (
          <span className={styles.date}>
            {" "}
            {new Intl.DateTimeFormat("en-GB", { dateStyle: "full", timeZone: queue.zone }).format(now)}
          </span>
        )}
      </p>
      <div className={styles.moves}>
        <span>Move forward</span>
        {MOVES.map(({ name, advance }) => (
          <Button key={advance} disabled={moving} onClick={() => void move(advance)}>
            {name}
          </Button>
        ))}
      </div>
    </section>
  );
}

interface AdForm {
  readonly sourceKey: string;
  readonly name: string;
  readonly questions: readonly {
    readonly field: string;
    readonly label: string;
    readonly choices?: readonly string[];
  }[];
}

/** Questions every form of the platform asks; what is left is the form's own. */
const USUAL = new Set(["full_name", "email", "phone_number", "postal_code"]);

type PlayedWay = "website" | "ad" | "call" | "text" | "email";

/** Play the lead: fill in the website form or an ad form, or send a text. */
export function PlayLead() {
  const [way, setWay] = useState<PlayedWay>("website");
  return (
    <section className={styles.play} aria-label="Play the lead">
      <h2>Play the lead</h2>
      <Tabs
        label="How they get in touch"
        chosen={way}
        onChoose={setWay}
        tabs={[
          { key: "website", name: "Website form" },
          { key: "ad", name: "Ad form" },
          { key: "call", name: "Call" },
          { key: "text", name: "Text" },
          { key: "email", name: "Email" },
        ]}
      />
      {way === "website" && <WebsiteForm />}
      {way === "ad" && <AdFormPlay />}
      {way === "call" && <CallPlay />}
      {way === "text" && <TextPlay />}
      {way === "email" && <EmailPlay />}
    </section>
  );
}

const PEOPLE = [
  {
    name: "Marguerite Oyelaran",
    phone: "(303) 555-0156",
    email: "marguerite@example.com",
    postal_code: "80205",
  },
  { name: "Anders Quispe", phone: "(206) 555-0121", email: "anders.q@example.org", postal_code: "98109" },
  {
    name: "Lucie Bergeron",
    phone: "(514) 555-0143",
    email: "lucie.bergeron@example.com",
    postal_code: "H2X 1Y4",
  },
  { name: "Hamza Fitzgerald", phone: "(612) 555-0190", email: "hamza.f@example.org", postal_code: "55403" },
] as const;

const PRODUCTS = [
  { value: "barrel", label: "Barrel sauna" },
  { value: "cabin", label: "Cabin sauna" },
  { value: "wood-fired", label: "Wood-fired tub" },
  { value: "plunge", label: "Plunge tub" },
  { value: "lodge", label: "Lodge package" },
];
const HOLDING = ["space", "power", "price", "just looking"].map((value) => ({ value, label: value }));

function usePerson() {
  const [person, setPerson] = useState<Record<"name" | "phone" | "email" | "postal_code", string>>(PEOPLE[0]);
  const [at, setAt] = useState(0);
  const next = () => {
    setAt((at + 1) % PEOPLE.length);
    setPerson(PEOPLE[(at + 1) % PEOPLE.length]!);
  };
  const fields = (
    <>
      <div className={styles.pair}>
        <Field
          label="Name"
          value={person.name}
          onChange={(e) => setPerson({ ...person, name: e.target.value })}
        />
        <Field
          label="Phone"
          value={person.phone}
          onChange={(e) => setPerson({ ...person, phone: e.target.value })}
        />
      </div>
      <div className={styles.pair}>
        <Field
          label="Email"
          value={person.email}
          onChange={(e) => setPerson({ ...person, email: e.target.value })}
        />
        <Field
          label="Postal code"
          value={person.postal_code}
          onChange={(e) => setPerson({ ...person, postal_code: e.target.value })}
        />
      </div>
    </>
  );
  return { person, next, fields };
}

/** Send it, and say what the desk made of it. */
function useSend() {
  const say = useSay();
  return async (sent: Promise<Partial<Receipt>>) => {
    try {
      const { quarantined, matched } = await sent;
      if (quarantined)
        say.wrong("The desk has kept it, but could not understand it: it waits in quarantine.");
      else
        say.done(
          matched === "sure"
            ? "Sent. The desk knows this person: it joined their lead."
            : "Sent. The desk has a new lead.",
        );
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
}

function WebsiteForm() {
  const { person, next, fields } = usePerson();
  const [product, setProduct] = useState("barrel");
  const [holding, setHolding] = useState("space");
  const [message, setMessage] = useState("Would a 6 ft barrel fit on our deck?");
  const send = useSend();
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        void send(
          call("POST /intake/[sourceKey]", {
            sourceKey: "plan-your-sauna",
            body: {
              ...person,
              product,
              message,
              holding_back: holding,
              submission_id: crypto.randomUUID(),
              page: "https://tarnholt.example/plan",
            },
          }),
        );
      }}
    >
      {fields}
      <div className={styles.pair}>
        <Choice label="Which one?" value={product} options={PRODUCTS} onChange={setProduct} />
        <Choice label="What is holding you back?" value={holding} options={HOLDING} onChange={setHolding} />
      </div>
      <Area label="Message" rows={2} value={message} onChange={(e) => setMessage(e.target.value)} />
      <Send onNext={next} />
    </form>
  );
}

function Send({ onNext }: { readonly onNext: () => void }) {
  return (
    <div className={styles.send}>
      <Button type="submit" look="strong">
        Send
      </Button>
      <Button look="bare" onClick={onNext}>
        Be somebody else
      </Button>
    </div>
  );
}

function AdFormPlay() {
  const { data } = useQuery({
    queryKey: ["ad-forms"],
    queryFn: () => call("GET /rehearsal/forms"),
  });
  const { person, next, fields } = usePerson();
  const [key, setKey] = useState("ad-barrel");
  const [answers, setAnswers] = useState<Record<string, string>>({});
  const send = useSend();
  const form = data?.items.find((f) => f.sourceKey === key) ?? data?.items[0];
  if (!form) return <p className={styles.form}>Looking up the forms …</p>;
  const own = form.questions.filter((q) => !USUAL.has(q.field));
  const said = (q: AdForm["questions"][number]) => answers[q.field] ?? q.choices?.[0] ?? "";
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        const { name, phone, ...rest } = person;
        void send(
          call("POST /rehearsal/ad-form", {
            body: {
              source: form.sourceKey,
              answers: {
                full_name: name,
                phone_number: phone,
                ...rest,
                ...Object.fromEntries(own.map((q) => [q.field, said(q)]).filter(([, v]) => v)),
              },
            },
          }),
        );
      }}
    >
      <Choice
        label="Form"
        value={form.sourceKey}
        options={data!.items.map((f) => ({ value: f.sourceKey, label: f.name }))}
        onChange={setKey}
      />
      {fields}
      {own.map((q) =>
        q.choices ? (
          <Choice
            key={q.field}
            label={q.label}
            value={said(q)}
            options={q.choices.map((c) => ({ value: c, label: c }))}
            onChange={(v) => setAnswers({ ...answers, [q.field]: v })}
          />
        ) : (
          <Field
            key={q.field}
            label={q.label}
            value={said(q)}
            onChange={(e) => setAnswers({ ...answers, [q.field]: e.target.value })}
          />
        ),
      )}
      <p className={styles.help}>The platform signs the delivery and posts it to the desk’s webhook.</p>
      <Send onNext={next} />
    </form>
  );
}

/** Lines of ours that somebody outside can reach. */
function useLines(channels: readonly string[]) {
  const { data } = useQuery({
    queryKey: ["sources-short"],
    queryFn: () => call("GET /sources").then((p) => p.items),
  });
  return (data ?? []).flatMap((s) =>
    s.line && channels.includes(s.channel) ? [{ value: s.line, label: s.name }] : [],
  );
}

const RESULTS: readonly Option<"missed" | "voicemail" | "answered">[] = [
  { value: "missed", label: "nobody answers" },
  { value: "voicemail", label: "nobody answers, they leave a voicemail" },
  { value: "answered", label: "you pick it up" },
];

function CallPlay() {
  const [from, setFrom] = useState<string>(PEOPLE[1].phone);
  const [result, setResult] = useState<(typeof RESULTS)[number]["value"]>("voicemail");
  const lines = useLines(["call"]);
  const [to, setTo] = useState<string | null>(null);
  const send = useSend();
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        void send(
          call("POST /rehearsal/call", {
            body: {
              from,
              to: to ?? lines[0]?.value ?? "",
              result,
              seconds: result === "missed" ? 0 : 24,
            },
          }),
        );
      }}
    >
      <Field label="From" value={from} onChange={(e) => setFrom(e.target.value)} />
      <Choice label="They call" value={to ?? lines[0]?.value ?? ""} options={lines} onChange={setTo} />
      <Choice label="What happens" value={result} options={RESULTS} onChange={setResult} />
      <p className={styles.help}>
        The carrier signs its report; a voicemail’s recording is fetched and plays in the thread.
      </p>
      <div className={styles.send}>
        <Button type="submit" look="strong" disabled={lines.length === 0}>
          Call
        </Button>
      </div>
    </form>
  );
}

const MACHINE = { "Auto-Submitted": "auto-replied" };

function EmailPlay() {
  const [from, setFrom] = useState<string>(PEOPLE[2].email);
  const [subject, setSubject] = useState("A sauna for our garden");
  const [body, setBody] = useState("Could you tell me what a cabin sauna costs with delivery?");
  const [machine, setMachine] = useState(false);
  const lines = useLines(["email", "document"]);
  const [to, setTo] = useState<string | null>(null);
  const say = useSay();
  const send = async () => {
    try {
      await call("POST /rehearsal/email", {
        body: {
          from,
          to: to ?? lines[0]?.value ?? "",
          subject,
          body,
          ...(machine && { headers: MACHINE }),
        },
      });
      say.done("Sent. The desk’s mail receiver has accepted it.");
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <div className={styles.pair}>
        <Field label="From" type="email" value={from} onChange={(e) => setFrom(e.target.value)} />
        <Choice label="To" value={to ?? lines[0]?.value ?? ""} options={lines} onChange={setTo} />
      </div>
      <Field label="Subject" value={subject} onChange={(e) => setSubject(e.target.value)} />
      <Area label="Mail" rows={3} value={body} onChange={(e) => setBody(e.target.value)} />
      <label>
        <input type="checkbox" checked={machine} onChange={(e) => setMachine(e.target.checked)} /> An absence
        note, written by a machine
      </label>
      <div className={styles.send}>
        <Button type="submit" look="strong" disabled={lines.length === 0}>
          Send
        </Button>
      </div>
    </form>
  );
}

function TextPlay() {
  const [from, setFrom] = useState<string>(PEOPLE[0].phone);
  const [body, setBody] = useState("Yes, please call me after five.");
  const send = useSend();
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        void send(call("POST /rehearsal/text", { body: { from, body } }));
      }}
    >
      <Field
        label="From"
        value={from}
        onChange={(e) => setFrom(e.target.value)}
        help="A number the desk knows is a reply; another is a new inquiry."
      />
      <Area label="Text" rows={2} value={body} onChange={(e) => setBody(e.target.value)} />
      <div className={styles.send}>
        <Button type="submit" look="strong">
          Send
        </Button>
      </div>
    </form>
  );
}
