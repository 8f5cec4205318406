import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { call, Refused } from "../../live/api.ts";
import { useMe, usePeople } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import styles from "./dialogs.module.css";
import { KnownFields } from "./KnownFields.tsx";
import { asFields, type KnownFacts, NOTHING, written } from "./known.ts";

interface Entry {
  readonly known: KnownFacts;
  /** `rules`, `list`, or a person's id. */
  readonly goesTo: string;
  readonly sourceId: string;
}

const BLANK: Entry = { known: NOTHING, goesTo: "rules", sourceId: "" };
const KEY = "kb_draft:new-2";

/** What was being written when the tab was closed; nothing when it can't be read. */
function kept(): Entry {
  try {
    const entry = JSON.parse(localStorage.getItem(KEY) ?? "null") as Entry | null;
    return entry ? { ...BLANK, ...entry, known: { ...NOTHING, ...entry.known } } : BLANK;
  } catch {
    return BLANK;
  }
}

/** Who it may be, asked while somebody types. */
function useWho(known: KnownFacts) {
  const fields = asFields(known);
  const enough =
    known.name.trim().length > 3 ||
    known.phones.some((p) => p.number.trim().length > 2) ||
    known.emails.some((e) => e.trim().length > 2);
  return useQuery({
    queryKey: ["who", fields],
    queryFn: () => call("POST /leads/match", { body: { fields } }),
    enabled: enough,
    placeholderData: keepPreviousData,
  });
}

/** Write down an inquiry: a walk-in, a call taken elsewhere. A name, a phone number or an address is enough. */
export function NewLead({
  onClose,
  onMade,
}: {
  readonly onClose: () => void;
  readonly onMade: (id: string) => void;
}) {
  const say = useSay();
  const { data: me } = useMe();
  const { data: people = [] } = usePeople();
  const { data: sources = [] } = useQuery({
    queryKey: ["sources-short"],
    queryFn: () => call("GET /sources").then((p) => p.items),
  });
  const mayMove = me?.rights.includes("leads.move") ?? false;
  const [entry, setEntry] = useState<Entry>(kept);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    localStorage.setItem(KEY, JSON.stringify(entry));
  }, [entry]);
  const { known, goesTo } = entry;
  const { data: who } = useWho(known);
  const byHand = sources.filter((s) => s.channel === "hand");
  const sourceId = entry.sourceId || byHand[0]?.id || "";

  const save = async () => {
    if (busy) return;
    setBusy(true);
    setErrors({});
    try {
      const made = await call("POST /leads", {
        body: {
          facts: asFields(known),
          note: known.message,
          ...(sourceId && { sourceId }),
          route: goesTo === "rules",
          ...(goesTo !== "rules" && goesTo !== "list" && { ownerId: goesTo }),
          more: more(known),
        },
      });
      localStorage.removeItem(KEY);
      if ("known" in made) {
        say.done(`They are known already: with ${made.has}. What you wrote is there for them.`);
        return onClose();
      }
      const theirs = (made.handOff?.to ?? []).map(
        (id) => people.find((p) => p.id === id)?.name ?? "somebody",
      );
      const isSeen = mayMove || made.ownerId === me?.id || made.handOff?.to.includes(me?.id ?? "");
      say.done(
        made.inquiries > 1
          ? `Joined to ${made.name ?? "the lead"}, who was known already.`
          : `${made.name ?? "The lead"} is on the desk${theirs.length > 0 && !isSeen ? `, offered to ${theirs.join(", ")}` : ""}.`,
      );
      // Of what goes to somebody else a salesperson sees no more.
      if (isSeen) onMade(made.id);
      else onClose();
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error);
      const named = error instanceof Refused ? (error.problem.errors ?? []) : [];
      setErrors(named.length > 0 ? Object.fromEntries(named.map((e) => [e.path, e.message])) : { all: said });
      setBusy(false);
    }
  };
  const owners = [
    { value: "rules", label: "Route it by the rules" },
    ...(me ? [{ value: me.id, label: "Keep it for me" }] : []),
    ...(mayMove ? people : [])
      .filter((p) => p.onDuty && p.id !== me?.id)
      .map((p) => ({ value: p.id, label: `${p.name}, ${p.openLeads} open`, group: "Give to" })),
    { value: "list", label: "Leave it on the manager’s list" },
  ];
  return (
    <Dialog title="New inquiry" onClose={onClose} as="drawer">
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
        onKeyDown={(event) => {
          if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
          event.preventDefault();
          void save();
        }}
      >
        <KnownFields
          known={known}
          errors={errors}
          unread={who?.unread ?? []}
          onChange={(next) => setEntry({ ...entry, known: next })}
        >
          <p className={styles.hint}>A name, a phone number or an address is enough.</p>
          <Who known={known} />
        </KnownFields>
        <div className={styles.two}>
          {byHand.length > 1 && (
            <Choice
              label="Where from"
              value={sourceId}
              options={byHand.map((s) => ({ value: s.id, label: s.name }))}
              onChange={(id) => setEntry({ ...entry, sourceId: id })}
            />
          )}
          <Field
            label="Where from, in a word or two"
            placeholder="the trailer at the fair …"
            value={known.detail}
            onChange={(e) => setEntry({ ...entry, known: { ...known, detail: e.target.value } })}
          />
          <Choice
            label="Who gets it"
            value={goesTo}
            options={owners}
            onChange={(value) => setEntry({ ...entry, goesTo: value })}
          />
        </div>
        {errors.all && (
          <p className={styles.wrong} role="alert">
            {errors.all}
          </p>
        )}
        <div className={styles.send}>
          <Button type="submit" look="strong" shortcut="Ctrl+Enter" disabled={busy}>
            Put on the desk
          </Button>
          <Button look="bare" onClick={() => setEntry(BLANK)}>
            Start over
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** What the named answers of an entry can't carry. Name, numbers and product go with the inquiry itself. */
function more(known: KnownFacts): Record<string, unknown> {
  const all = written(known);
  const own = Object.fromEntries(Object.entries(known.own).filter(([, v]) => v.trim()));
  const kinds = known.phones.some((p) => p.kind && p.number.trim());
  return {
    ...(kinds && { phones: all.phones }),
    ...(known.address && { address: known.address }),
    ...(known.detail && { detail: known.detail }),
    ...(known.preferred && { preferred: known.preferred }),
    ...(known.forbidden.length > 0 && { forbidden: known.forbidden }),
    ...(known.tags.length > 0 && { tags: known.tags }),
    ...(Object.keys(own).length > 0 && { own }),
    ...((all.related as unknown[]).length > 0 && { related: all.related }),
  };
}

function Who({ known }: { readonly known: KnownFacts }) {
  const { data: who } = useWho(known);
  if (who?.sure)
    return (
      <p className={styles.match} role="status">
        Known already: <b>{who.sure.name ?? "a lead without a name"}</b>. This will join that lead as a
        further inquiry.
      </p>
    );
  if (!who || who.likely.length === 0) return null;
  return (
    <div className={styles.match} role="status">
      May be known already:
      <ul className={styles.maybe}>
        {who.likely.map((m) => (
          <li key={m.leadId}>
            <a href={`/?lead=${m.leadId}`} target="_blank" rel="noreferrer">
              {m.name ?? "a lead without a name"}
            </a>
            , {m.about}
            <small>{m.evidence.map((e) => e.said).join("; ")}</small>
          </li>
        ))}
      </ul>
    </div>
  );
}
