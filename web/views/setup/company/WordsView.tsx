import { useWords } from "../../../live/company-queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Area } from "../../../ui/Field.tsx";
import type { SaveWords, WordsSetup } from "../../../wire/company-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { withoutBlanks } from "../written.ts";

/** The stages a lead goes through, and the reasons people choose from. */
export function WordsView() {
  return (
    <SetupFrame place="Stages and reasons">
      <Words />
    </SetupFrame>
  );
}

const draftOf = ({ stages, passReasons, giveReasons, closeReasons }: WordsSetup): SaveWords => ({
  stages,
  passReasons,
  giveReasons,
  closeReasons,
});

const LISTS = [
  {
    key: "stages",
    name: "Stages, in their order",
    about: (kept: readonly string[]) =>
      `The desk itself puts leads into ${kept.slice(0, -1).join(", ")} and ${kept.at(-1)}; those stay.`,
  },
  {
    key: "passReasons",
    name: "Reasons for passing on a lead",
    about: () => "Whoever is offered a lead and can’t have it says why.",
  },
  {
    key: "giveReasons",
    name: "Reasons for giving a lead to somebody",
    about: () => "Whoever moves a lead by hand chooses one, or writes another. Both sides read it.",
  },
  {
    key: "closeReasons",
    name: "Reasons for closing a lead",
    about: () => "Asked whenever a lead is closed. Figures and the turns of rotations go by them.",
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
    stages: withoutBlanks(draft.stages),
    passReasons: withoutBlanks(draft.passReasons),
    giveReasons: withoutBlanks(draft.giveReasons),
    closeReasons: withoutBlanks(draft.closeReasons),
  };
  return (
    <>
      <h1>Stages and reasons</h1>
      <p className={styles.intro}>The words your people choose from. One a line.</p>
      <div className={styles.stack}>
        {LISTS.map(({ key, name, about }) => (
          <Area
            key={key}
            label={name}
            help={about(data.kept)}
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
