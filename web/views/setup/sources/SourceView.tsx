import { useState } from "react";
import { useInAddress } from "../../../live/address.ts";
import { useNow } from "../../../live/clock.ts";
import { useGroups, usePeople, useQueue } from "../../../live/queries.ts";
import { useChange, useSource } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import { Tabs } from "../../../ui/Tabs.tsx";
import type { SourceDetail } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { CHANNELS, heardOf, rhythm, troubles } from "../words.ts";
import { FormEditor } from "./FormEditor.tsx";
import { MappingEditor } from "./MappingEditor.tsx";
import { Bars, State } from "./SourcesView.tsx";

type Tab = "health" | "mapping" | "form";

/** One source: how it does, what its fields become, and its form. */
export function SourceView({ sourceKey }: { readonly sourceKey: string }) {
  return (
    <SetupFrame place="Sources">
      <Source sourceKey={sourceKey} />
    </SetupFrame>
  );
}

function Source({ sourceKey }: { readonly sourceKey: string }) {
  const { data: source, error } = useSource(sourceKey);
  const [asked, setAsked] = useInAddress("tab");
  if (error)
    return (
      <Empty title="This source can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!source) return <p className={styles.quiet}>Looking it up …</p>;
  const tabs = [
    { key: "health" as const, name: "How it does" },
    { key: "mapping" as const, name: "What fields become" },
    ...(source.form ? [{ key: "form" as const, name: "The form" }] : []),
  ];
  const tab: Tab = tabs.find((t) => t.key === asked)?.key ?? "health";
  return (
    <>
      <p className={styles.quiet}>
        <a href="/setup">Sources</a> ›
      </p>
      <Head source={source} />
      <Tabs label="Source" tabs={tabs} chosen={tab} onChoose={(key) => setAsked(key, { replace: true })} />
      {tab === "health" && <Health source={source} />}
      {tab === "mapping" && <MappingEditor key={source.id} source={source} />}
      {tab === "form" && source.form && <FormEditor key={source.id} source={source} form={source.form} />}
    </>
  );
}

function Head({ source }: { readonly source: SourceDetail }) {
  const change = useChange();
  const set = (state: SourceDetail["state"], said: string) =>
    change.mutate({ call: "POST /sources/[id]", params: { id: source.key }, body: { state }, said });
  return (
    <div className={styles.top}>
      <h1>{source.name}</h1>
      <div className={styles.row}>
        <State state={source.state} />
        {source.state === "live" ? (
          <Button
            onClick={() => set("paused", "Paused. What comes is kept in quarantine until it is live again.")}
          >
            Pause
          </Button>
        ) : (
          <Button look="strong" onClick={() => set("live", "Live. Inquiries reach the desk now.")}>
            Put it live
          </Button>
        )}
      </div>
    </div>
  );
}

function Health({ source }: { readonly source: SourceDetail }) {
  const now = useNow();
  const { data: queue } = useQueue();
  const { health } = source;
  const said = troubles(source);
  return (
    <div className={styles.editor}>
      <div>
        <h2>What comes</h2>
        <div className={styles.row}>
          <Bars days={health.days} />
          <span>
            <b>{health.week}</b> in seven days, {health.weekBefore} in the seven before, {health.total} in
            all.
          </span>
        </div>
        <p>
          Last inquiry: {heardOf(source, queue?.zone ?? "UTC", now)}. Usual: {rhythm(source)}.
        </p>
        <h2>What to know</h2>
        {said.length === 0 ? (
          <p className={styles.good}>Nothing is wrong with it.</p>
        ) : (
          <ul className={styles.trouble}>
            {said.map((t) => (
              <li key={t.said} className={t.stops ? styles.stops : styles.note}>
                {t.said}
              </li>
            ))}
          </ul>
        )}
        {health.quarantined > 0 && (
          <p>
            <a href="/setup/quarantine">Look at what waits in quarantine</a>
          </p>
        )}
        <h2>Last deliveries</h2>
        {source.samples.length === 0 ? (
          <Empty title="Nothing has come yet">Send a test from “What fields become”.</Empty>
        ) : (
          <table className={styles.table}>
            <thead>
              <tr>
                <th>When</th>
                <th>What it brought</th>
                <th>Original</th>
              </tr>
            </thead>
            <tbody>
              {source.samples.slice(0, 8).map((sample) => (
                <tr key={sample.id}>
                  <td className={styles.state}>
                    {heardOf(
                      { ...source, health: { ...health, lastAt: sample.at } },
                      queue?.zone ?? "UTC",
                      now,
                    )}
                  </td>
                  <td>
                    {sample.unreadable ??
                      Object.entries(sample.fields)
                        .slice(0, 5)
                        .map(([name, value]) => `${name}: ${value}`)
                        .join(" · ")}
                  </td>
                  <td>
                    <a href={`/api/v1/inquiries/${sample.id}/original`}>download</a>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      <aside className={styles.result}>
        <Connection source={source} />
      </aside>
    </div>
  );
}

/** How the outside reaches it. */
function Connection({ source }: { readonly source: SourceDetail }) {
  const change = useChange();
  const catchUp = useChange();
  const { data: people = [] } = usePeople();
  const { data: groups = [] } = useGroups();
  const [line, setLine] = useState(source.line ?? "");
  const address = `${location.origin}/api/v1/intake/${source.key}`;
  return (
    <>
      <h2>How it is reached</h2>
      <p className={styles.quiet}>{CHANNELS[source.channel]}</p>
      {source.adForm && (
        <>
          <p>
            {source.adForm.accountName} › {source.adForm.pageName} › <b>{source.adForm.formName}</b>
          </p>
          <div className={styles.row}>
            <Button
              onClick={() =>
                catchUp.mutate({
                  call: "POST /sources/[id]/catch-up",
                  params: { id: source.key },

                  said: ({ fetched, fresh }) => `${fetched} fetched from the platform; ${fresh} were new.`,
                })
              }
            >
              Fetch what was missed
            </Button>
            {source.health.changed.added.length + source.health.changed.gone.length > 0 && (
              <Button
                onClick={() =>
                  change.mutate({
                    call: "POST /sources/[id]/questions",
                    params: { id: source.key },

                    said: "The form’s new questions are taken over.",
                  })
                }
              >
                Take over the new questions
              </Button>
            )}
          </div>
        </>
      )}
      {["call", "text", "email", "document"].includes(source.channel) && (
        <form
          className={styles.stack}
          onSubmit={(event) => {
            event.preventDefault();
            change.mutate({
              call: "POST /sources/[id]",
              params: { id: source.key },
              body: { line },
              said: "The line is changed.",
            });
          }}
        >
          <Field
            label={source.channel === "call" || source.channel === "text" ? "Phone number" : "Mail address"}
            value={line}
            onChange={(e) => setLine(e.target.value)}
          />
          {source.channel !== "document" && (
            <Choice
              label="Whose line it is"
              value={
                source.lineOwnerId
                  ? `p:${source.lineOwnerId}`
                  : source.lineGroupId
                    ? `g:${source.lineGroupId}`
                    : ""
              }
              options={[
                { value: "", label: "The source’s own: route by the rules" },
                ...people
                  .filter((p) => p.role === "salesperson")
                  .map((p) => ({ value: `p:${p.id}`, label: p.name, group: "One person’s" })),
                ...groups.map((g) => ({ value: `g:${g.id}`, label: g.name, group: "A group’s" })),
              ]}
              onChange={(whose) => {
                const id = whose.slice(2) || null;
                const [ofPerson, ofGroup] = [whose.startsWith("p:"), whose.startsWith("g:")];
                change.mutate({
                  call: "POST /sources/[id]",
                  params: { id: source.key },
                  body: { lineOwnerId: ofPerson ? id : null, lineGroupId: ofGroup ? id : null },
                  said: ofPerson
                    ? "Whoever comes in by this line is theirs, and what they send goes out from it."
                    : ofGroup
                      ? "What the group’s people send goes out from it. Who comes in by it is routed by the rules."
                      : "Whoever comes in by this line is routed by the rules.",
                });
              }}
            />
          )}
          {source.formerLines.length > 0 && (
            <p className={styles.quiet}>
              Still listened on, so that answers to old messages find their way:{" "}
              {source.formerLines.join(", ")}.
            </p>
          )}
          <div>
            <Button type="submit" disabled={line === (source.line ?? "")}>
              Change the line
            </Button>
          </div>
        </form>
      )}
      {source.channel !== "hand" && source.channel !== "spreadsheet" && (
        <>
          <h2>By HTTP</h2>
          <p className={styles.quiet}>
            Post JSON, a form, ADF/XML or a contact card. The same submission id, or the same bytes within
            five minutes, is one inquiry.
          </p>
          {source.channel === "chat" && (
            <p className={styles.quiet}>
              Each message with <code>conversation_id</code>, <code>message_id</code>, <code>message</code>{" "}
              and what is known of who writes: <code>name</code>, <code>phone</code>, <code>email</code>. What
              follows in the same conversation is the same lead’s.
            </p>
          )}
          <p className={styles.code}>POST {address}</p>
        </>
      )}
    </>
  );
}
