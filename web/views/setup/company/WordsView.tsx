import { useWords } from "../../../live/company-queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Area } from "../../../ui/Field.tsx";
import type { SaveWords, WordsSetup } from "../../../wire/company-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { withoutBlanks } from "../written.ts";

/** The reasons people choose from when a lead goes to somebody else. */
export function WordsView() {
  return (
    <SetupFrame place="Reasons">
      <Words />
    </SetupFrame>
  );
}

const draftOf = ({ passReasons, giveReasons }: WordsSetup): SaveWords => ({ passReasons, giveReasons });

const LISTS = [
  {
    key: "passReasons",
    name: "Reasons for passing on a lead",
    about: "Whoever is offered a lead and can’t have it says why.",
  },
  {
    key: "giveReasons",
    name: "Reasons for giving a lead to somebody",
    about: "Whoever moves a lead by hand chooses one, or writes another. Both sides read it.",
  },
] as const;

function Words() {
  const { data, error } = useWords();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<SaveWords>("words", data ? draftOf(data) : null);
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={styles.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  const tidy = {
    passReasons: withoutBlanks(draft.passReasons),
    giveReasons: withoutBlanks(draft.giveReasons),
  };
  return (
    <>
      <h1>Reasons</h1>
      <p className={styles.intro}>
        What your people choose from when a lead goes to somebody else. One a line. Why leads and deals end is
        said under <a href="/setup/stages">Stages</a>.
      </p>
      <div className={styles.stack}>
        {LISTS.map(({ key, name, about }) => (
          <Area
            key={key}
            label={name}
            help={about}
            rows={Math.max(4, draft[key].length + 1)}
            value={draft[key].join("\n")}
            onChange={(e) => setDraft({ ...draft, [key]: e.target.value.split("\n") })}
          />
        ))}
      </div>
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/words",
              body: tidy,
              said: "In force from now on.",
              after: (now) => setDraft(draftOf(now)),
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}
