import { GROUP_WAYS, type GroupWay } from "../../../../core/policy/people.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { FullGroup, PeopleSetup } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";
import styles from "./People.module.css";

interface Props {
  readonly group: FullGroup;
  readonly data: PeopleSetup;
  readonly may: boolean;
  readonly onClose: () => void;
}

const SAID: Readonly<Record<GroupWay, string>> = {
  rotation: "Everybody who can have it in turn, one after the other.",
  weighted: "In turn, somebody of weight 3 three times as often as somebody of weight 1, spread evenly.",
  "fewest-open": "Whoever holds the fewest open leads.",
  "best-match": "Whoever’s products, territories and languages suit best; then whoever holds less.",
  "open-call": "Everybody at once; the first to take it has it.",
};

/** A group: who is in it, and how it is asked when no rule says otherwise. */
export function GroupEditor({ group, data, may, onClose }: Props) {
  const editing = useEditing(`group:${group.id || "new"}`, group);
  const { draft, put: setDraft } = editing;
  const change = useChange();
  const name = (id: string) => data.people.find((p) => p.id === id)?.name ?? "somebody";
  const others = data.people.filter((p) => !draft.members.some((m) => m.personId === p.id));
  const weigh = (personId: string, weight: number) =>
    setDraft({
      ...draft,
      members: draft.members.map((m) => (m.personId === personId ? { ...m, weight } : m)),
    });
  return (
    <Dialog title={group.name || "New group"} onClose={onClose}>
      <fieldset className={setup.plain} disabled={!may}>
        <div className={setup.stack}>
          <Field
            label="Name"
            value={draft.name}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
          <Choice
            label="Asked by"
            value={draft.way}
            options={Object.entries(GROUP_WAYS).map(([value, label]) => ({ value, label }))}
            onChange={(way) => setDraft({ ...draft, way: way as GroupWay })}
          />
          <p className={setup.quiet}>{SAID[draft.way]}</p>
          {draft.members.map(({ personId, weight }) => (
            <div key={personId} className={styles.span}>
              <span style={{ flex: 1 }}>{name(personId)}</span>
              {draft.way === "weighted" && (
                <Field
                  label={`Weight of ${name(personId)}`}
                  quiet
                  type="number"
                  min={0}
                  max={100}
                  value={weight}
                  onChange={(e) => weigh(personId, Number(e.target.value))}
                />
              )}
              <Button
                look="bare"
                aria-label={`${name(personId)} out of the group`}
                onClick={() =>
                  setDraft({ ...draft, members: draft.members.filter((m) => m.personId !== personId) })
                }
              >
                Remove
              </Button>
            </div>
          ))}
          <Choice
            label="Add to the group"
            value=""
            options={[
              { value: "", label: "choose somebody" },
              ...others.map((p) => ({ value: p.id, label: p.name })),
            ]}
            onChange={(id) =>
              id && setDraft({ ...draft, members: [...draft.members, { personId: id, weight: 1 }] })
            }
          />
        </div>
      </fieldset>
      {may && (
        <p className={setup.row}>
          <Button
            look="strong"
            disabled={change.isPending}
            onClick={() =>
              change.mutate({
                call: "POST /setup/groups",
                body: draft,
                said: `${draft.name} is saved.`,
                after: () => {
                  editing.done();
                  onClose();
                },
              })
            }
          >
            Save
          </Button>
          {editing.changed && (
            <Button
              look="bare"
              onClick={() => {
                editing.leave();
                onClose();
              }}
            >
              Discard changes
            </Button>
          )}
          {group.id && (
            <Button
              look="bare"
              onClick={() =>
                change.mutate({
                  call: "POST /setup/groups/[id]/remove",
                  params: { id: group.id },

                  said: `${group.name} is gone.`,
                  after: onClose,
                })
              }
            >
              Remove the group
            </Button>
          )}
        </p>
      )}
    </Dialog>
  );
}
