import { useState } from "react";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Area } from "../../../ui/Field.tsx";
import type { RoutingSetup, Turns } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";

const BACK = [
  { value: "kept", label: "counts as a turn" },
  { value: "back", label: "has the next turn again" },
];

const turnsOf = ({ turns, standby, passReasons }: RoutingSetup): Turns => ({ turns, standby, passReasons });

/** What holds for every rule: turns that came to nothing, who is on standby in which order, and why one may pass. */
export function TurnsEditor({ data }: { readonly data: RoutingSetup }) {
  const [draft, setDraft] = useState(turnsOf(data));
  const change = useChange();
  const changed = JSON.stringify(draft) !== JSON.stringify(turnsOf(data));
  const put = (part: Partial<Turns["turns"]>) => setDraft({ ...draft, turns: { ...draft.turns, ...part } });
  const others = data.people.filter((p) => !draft.standby.includes(p.id));
  const name = (id: string) => data.people.find((p) => p.id === id)?.name ?? "somebody no longer here";
  return (
    <>
      <h2>Turns and standby</h2>
      <p className={setup.intro}>These hold at once, for every rule.</p>
      <div className={setup.fields}>
        <Choice
          label="Whoever passes"
          value={draft.turns.pass}
          options={BACK}
          onChange={(pass) => put({ pass: pass as "back" | "kept" })}
        />
        <Choice
          label="Whoever lets it lapse"
          value={draft.turns.lapse}
          options={BACK}
          onChange={(lapse) => put({ lapse: lapse as "back" | "kept" })}
        />
      </div>
      <p className={setup.quiet}>
        Which reasons for closing give the turn back is said under <a href="/setup/stages">Stages</a>.
      </p>
      <div className={setup.row}>
        <span>On standby, in this order:</span>
        {draft.standby.map((id, i) => (
          <span key={id} className={setup.chip}>
            {i + 1}. {name(id)}{" "}
            {i > 0 && (
              <Button
                look="bare"
                aria-label={`${name(id)} sooner`}
                onClick={() => {
                  const next = [...draft.standby];
                  next.splice(i - 1, 0, ...next.splice(i, 1));
                  setDraft({ ...draft, standby: next });
                }}
              >
                sooner
              </Button>
            )}
            <Button
              look="bare"
              aria-label={`${name(id)} off standby`}
              onClick={() => setDraft({ ...draft, standby: draft.standby.filter((x) => x !== id) })}
            >
              remove
            </Button>
          </span>
        ))}
        <Choice
          label="Add to standby"
          quiet
          value=""
          options={[
            { value: "", label: "add somebody" },
            ...others.map((p) => ({ value: p.id, label: p.name })),
          ]}
          onChange={(id) => id && setDraft({ ...draft, standby: [...draft.standby, id] })}
        />
      </div>
      <div className={setup.stack}>
        <Area
          label="Reasons for passing, one a line"
          rows={Math.max(3, draft.passReasons.length)}
          value={draft.passReasons.join("\n")}
          onChange={(e) => setDraft({ ...draft, passReasons: e.target.value.split("\n") })}
        />
      </div>
      {changed && (
        <p className={setup.row}>
          {data.mayPublish ? (
            <Button
              look="strong"
              disabled={change.isPending}
              onClick={() =>
                change.mutate({
                  call: "POST /setup/routing/turns",
                  body: draft,
                  said: "In force from now on.",
                  after: (now) => setDraft(turnsOf(now)),
                })
              }
            >
              Put in force
            </Button>
          ) : (
            <span className={setup.quiet}>A manager puts this in force.</span>
          )}
          <Button look="bare" onClick={() => setDraft(turnsOf(data))}>
            Discard changes
          </Button>
        </p>
      )}
    </>
  );
}
