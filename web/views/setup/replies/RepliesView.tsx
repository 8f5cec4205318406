import { useState } from "react";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange, useReplies } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { ChangeReplies, RepliesSetup, ReplyPolicy } from "../../../wire/answering-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { ReplyWayEditor } from "./ReplyWayEditor.tsx";
import { WhatTheyGet } from "./WhatTheyGet.tsx";

/** How every source answers on its own, with what one person would receive in sight. */
export function RepliesView() {
  return (
    <SetupFrame place="Replies">
      <Replies />
    </SetupFrame>
  );
}

const changeOf = ({ usual, again, sources }: RepliesSetup): ChangeReplies => ({
  usual,
  again,
  sources: Object.fromEntries(sources.map((s) => [s.id, s.own])),
});

function Replies() {
  const { data, error } = useReplies();
  const save = useChange();
  const [sourceId, setSource] = useState("");
  const [draft, setDraft] = useSetupDraft<ChangeReplies>("replies", data ? changeOf(data) : null);
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={styles.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(changeOf(data));
  const source = data.sources.find((s) => s.id === sourceId) ?? null;
  const own = source ? (draft.sources[source.id] ?? null) : null;
  const shown = source ? own : draft.usual;
  const put = (policy: ReplyPolicy | null) =>
    source
      ? setDraft({ ...draft, sources: { ...draft.sources, [source.id]: policy } })
      : policy && setDraft({ ...draft, usual: policy });
  return (
    <>
      <h1>Replies</h1>
      <p className={styles.intro}>
        What goes out on its own as soon as an inquiry comes in. It never counts as a try: the bell runs on
        until one of us has called or written.
      </p>
      <div className={styles.editor}>
        <div>
          <Choice
            label="Whose reply"
            value={sourceId}
            options={[
              { value: "", label: "Usual, for every source without its own" },
              ...data.sources.map((s) => ({
                value: s.id,
                label: draft.sources[s.id] ? `${s.name} (its own)` : s.name,
                group: "Sources",
              })),
            ]}
            onChange={setSource}
          />
          {source && !own && (
            <p className={styles.row}>
              <span>{source.name} answers the usual way.</span>
              <Button onClick={() => put(structuredClone(draft.usual))}>Give it its own</Button>
            </p>
          )}
          {source && own && (
            <p className={styles.row}>
              <span>{source.name} answers its own way.</span>
              <Button onClick={() => put(null)}>Back to the usual</Button>
            </p>
          )}
          {shown &&
            (["email", "text"] as const).map((channel) => (
              <ReplyWayEditor
                key={channel}
                channel={channel}
                way={shown[channel]}
                setup={data}
                onChange={(way) => put({ ...shown, [channel]: way })}
              />
            ))}
          {!source && <AgainEditor draft={draft} setup={data} onChange={setDraft} />}
        </div>
        <WhatTheyGet draft={draft} setup={data} sourceId={source?.id ?? data.sources[0]?.id ?? ""} />
      </div>
      {changed && (
        <div className={styles.bar}>
          <Button
            look="strong"
            disabled={save.isPending}
            onClick={() =>
              save.mutate({ call: "POST /setup/replies", body: draft, said: "In force from now on." })
            }
          >
            Put in force
          </Button>
          <Button look="bare" onClick={() => setDraft(changeOf(data))}>
            Discard changes
          </Button>
          <span className={styles.quiet}>Nothing is changed yet.</span>
        </div>
      )}
    </>
  );
}

interface AgainProps {
  readonly draft: ChangeReplies;
  readonly setup: RepliesSetup;
  readonly onChange: (draft: ChangeReplies) => void;
}

/** What somebody gets who inquires a second time soon after. */
function AgainEditor({ draft, setup, onChange }: AgainProps) {
  const { again } = draft;
  const put = (change: Partial<ChangeReplies["again"]>) =>
    onChange({ ...draft, again: { ...again, ...change } });
  return (
    <>
      <h2>When they ask again</h2>
      <div className={styles.fields}>
        <Field
          label="Within so many hours"
          type="number"
          min={0}
          max={720}
          value={again.hours}
          onChange={(e) => put({ hours: Number(e.target.value) })}
        />
        {(["email", "text"] as const).map((channel) => (
          <Choice
            key={channel}
            label={channel === "email" ? "By email they get" : "By text they get"}
            value={again[channel] ?? ""}
            options={[
              { value: "", label: "nothing" },
              ...setup.templates
                .filter((t) => t.channel === channel)
                .map((t) => ({ value: t.id, label: t.name })),
            ]}
            onChange={(id) => put({ [channel]: id || null })}
          />
        ))}
      </div>
    </>
  );
}
