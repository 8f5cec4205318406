import { useInAddress } from "../../../live/address.ts";
import { useCadences } from "../../../live/cadence-queries.ts";
import { useMe } from "../../../live/queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { Cadence, Cadences } from "../../../wire/cadence-schemas.ts";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { CadenceEditor } from "./CadenceEditor.tsx";
import styles from "./Cadences.module.css";
import { entrySaid } from "./cadence-words.ts";
import { Figures } from "./Figures.tsx";

/** Plans over time: what is live, what is drafted, who stands where, and what they have come to. */
export function CadencesView() {
  return (
    <SetupFrame place="Cadences">
      <Places />
    </SetupFrame>
  );
}

/** Stands for a cadence that is begun and not kept yet. */
const NEW = "new";

function Places() {
  const { data, error, isFetching } = useCadences();
  const [id, open] = useInAddress("cadence");
  const [look, setLook] = useInAddress("look");
  const [, setTouch] = useInAddress("touch");
  if (error && !data) return <p className={setup.wrong}>{error.message}</p>;
  if (!data) return <p className={setup.quiet}>Looking …</p>;
  const cadence = data.cadences.find((c) => c.id === id);
  if (id === NEW || cadence)
    return (
      <>
        <p>
          <Button
            look="bare"
            onClick={() => {
              setTouch(null);
              setLook(null);
              open(null);
            }}
          >
            ‹ All cadences
          </Button>
        </p>
        {cadence && look === "figures" ? (
          <Figures cadence={cadence} onBack={() => setLook(null)} />
        ) : (
          <CadenceEditor
            key={id}
            cadence={cadence ?? null}
            data={data}
            onOpen={(next) => open(next, { replace: true })}
            onFigures={() => setLook("figures")}
          />
        )}
      </>
    );
  // One that was kept just now is on its way.
  if (id && isFetching) return <p className={setup.quiet}>Looking …</p>;
  return <All data={data} onOpen={open} />;
}

function All({ data, onOpen }: { readonly data: Cadences; readonly onOpen: (id: string) => void }) {
  return (
    <>
      <div className={setup.top}>
        <h1>Cadences</h1>
        <Button onClick={() => onOpen(NEW)}>Begin a cadence</Button>
      </div>
      <p className={setup.intro}>
        A cadence is a plan of calls, messages and tasks over hours to months. It stops when they write, call
        or are reached, and hands a reply to a person. What is changed is a draft until it is published;
        whoever is in a cadence goes on by the version they began with.
      </p>
      {data.cadences.length === 0 ? (
        <Empty title="No cadence yet">
          Begin one: leads get in by an outcome, an inquiry, a tag, or by hand.
        </Empty>
      ) : (
        <ul className={styles.all}>
          {data.cadences.map((c) => (
            <Row key={c.id} cadence={c} data={data} onOpen={() => onOpen(c.id)} />
          ))}
        </ul>
      )}
    </>
  );
}

const STATES = { draft: "draft", live: "live", off: "switched off" } as const;

function Row({
  cadence,
  data,
  onOpen,
}: {
  readonly cadence: Cadence;
  readonly data: Cadences;
  readonly onOpen: () => void;
}) {
  const change = useChange();
  const say = useSay();
  const { data: me } = useMe();
  const { id, name, touches, enters, state, drafted, version } = cadence;
  const people = touches.filter((t) => t.kind === "call" || t.kind === "task").length;
  const messages = touches.filter((t) => t.kind === "email" || t.kind === "text").length;
  const toggle = (off: boolean, undo = true) =>
    change.mutate({
      call: "POST /setup/cadences/[id]/switch",
      params: { id },
      body: { off },
      said: "",
      after: () =>
        say.done(
          off
            ? `Nobody gets into “${name}” any more; who is in it goes on.`
            : `Leads get into “${name}” again.`,
          undo ? () => toggle(!off, false) : undefined,
        ),
    });
  return (
    <li className={styles.row} data-off={state === "off" || undefined}>
      <div>
        <button type="button" className={setup.open} data-row onClick={onOpen}>
          {name || "Without a name"}
        </button>{" "}
        <span className={styles.state} data-state={state}>
          {STATES[state]}
          {version > 0 && ` · version ${version}`}
        </span>
        {drafted && state !== "draft" && <span className={styles.state}> · ▲ a draft waits</span>}
        <p className={setup.quiet}>
          {people} {people === 1 ? "call or task" : "calls and tasks"}, {messages}{" "}
          {messages === 1 ? "message" : "messages"}; {lasts(cadence)}.{" "}
          {enters.length > 0
            ? `Begins when ${enters.map((e) => entrySaid(e, data)).join(", or ")}.`
            : "Begins by hand."}
        </p>
      </div>
      <span className={styles.in}>
        <b>{cadence.in}</b> in it
      </span>
      <span className={styles.acts}>
        {me?.rights.includes("figures") && state !== "draft" && (
          <a href={`/setup/cadences?cadence=${id}&look=figures`}>Figures</a>
        )}
        {state !== "draft" && (
          <Button
            look="bare"
            aria-label={`${state === "off" ? "Switch on" : "Switch off"} ${name}`}
            onClick={() => toggle(state !== "off")}
          >
            {state === "off" ? "Switch on" : "Switch off"}
          </Button>
        )}
      </span>
    </li>
  );
}

/** Why leads are in it, in the company’s own words. */
const lasts = ({ reason, then }: Cadence): string =>
  `for leads: ${reason}${then?.again ? (then.again.times === null ? ", again and again" : `, ${then.again.times + 1} times round`) : ""}`;
