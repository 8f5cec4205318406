import { useState } from "react";
import { valueNames } from "../../../../core/policy/setup.ts";
import { Choice } from "../../../ui/Choice.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import type { Choices, Territory } from "../../../wire/company-schemas.ts";
import { KeepRow } from "../SaveBar.tsx";
import styles from "../Setup.module.css";

interface Props {
  readonly territory: Territory;
  /** Names of the others, in lower case. */
  readonly others: readonly string[];
  readonly choices: Choices;
  readonly onClose: () => void;
  readonly onKeep: (next: Territory) => void;
}

const parts = (text: string) => [...new Set(text.split(/[\s,;]+/).filter(Boolean))];

/** One territory: what it is called, and what leads from there have in common. */
export function TerritoryEditor({ territory, others, choices, onClose, onKeep }: Props) {
  const [draft, setDraft] = useState(territory);
  const [post, setPost] = useState(territory.postalPrefixes.join(" "));
  const [areas, setAreas] = useState(territory.areaCodes.join(" "));
  const name = draft.name.trim();
  const taken = others.includes(name.toLowerCase());
  return (
    <Dialog as="wide" title={territory.name || "A new territory"} onClose={onClose}>
      <form
        className={styles.stack}
        onSubmit={(event) => {
          event.preventDefault();
          if (name && !taken)
            onKeep({ ...draft, name, postalPrefixes: parts(post), areaCodes: parts(areas) });
        }}
      >
        <div className={styles.fields}>
          <Field
            label="Name"
            required
            value={draft.name}
            error={taken ? "There is one of that name." : undefined}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
          <Choice
            label="Country"
            value={draft.country}
            options={choices.countries.map(({ key, name: label }) => ({ value: key, label }))}
            onChange={(country) => setDraft({ ...draft, country })}
          />
          <Choice
            label="Clock"
            value={draft.zone}
            options={[...new Set([draft.zone, ...choices.zones])].map((zone) => ({
              value: zone,
              label: zone.replace(/_/g, " "),
            }))}
            onChange={(zone) => setDraft({ ...draft, zone })}
          />
          <Choice
            label="Language"
            value={draft.language}
            options={choices.languages.map(({ key }) => ({ value: key, label: valueNames.language(key) }))}
            onChange={(language) => setDraft({ ...draft, language })}
          />
        </div>
        <Area
          label="Postal codes, or what they begin with"
          help="Separated by blanks. 80 stands for all that begin so; where two territories fit, the longer beginning counts."
          rows={4}
          value={post}
          onChange={(e) => setPost(e.target.value)}
        />
        <Area
          label="Area codes"
          help="As they are dialled there, with their 0 or without."
          rows={2}
          value={areas}
          onChange={(e) => setAreas(e.target.value)}
        />
        <KeepRow />
      </form>
    </Dialog>
  );
}
