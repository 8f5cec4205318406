import { useState } from "react";
import { keyOf } from "../../../../core/policy/own-fields.ts";
import { useChange, useFieldsSetup } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { OwnField } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";

export const TYPES: readonly { readonly value: OwnField["type"]; readonly label: string }[] = [
  { value: "text", label: "text" },
  { value: "number", label: "number" },
  { value: "money", label: "money" },
  { value: "date", label: "date" },
  { value: "birthday", label: "birthday (no year)" },
  { value: "yes-no", label: "yes or no" },
  { value: "choice", label: "one of a list" },
  { value: "choices", label: "several of a list" },
  { value: "link", label: "web address" },
];

/** Make a field of the company's own on the spot. */
export function NewField({
  suggested,
  onClose,
  onMade,
}: {
  readonly suggested: string;
  readonly onClose: () => void;
  readonly onMade: (key: string) => void;
}) {
  const { data: setup } = useFieldsSetup();
  const change = useChange();
  const words = suggested.replace(/[_-]+/g, " ").trim();
  const [name, setName] = useState(words.charAt(0).toUpperCase() + words.slice(1));
  const [type, setType] = useState<OwnField["type"]>("text");
  const [choices, setChoices] = useState("");
  const key = keyOf(name);
  const taken = setup?.fields.some((f) => f.key === key);
  const save = () => {
    if (!setup) return;
    const { fields, tags, completeness } = setup;
    const list =
      type === "choice" || type === "choices"
        ? choices
            .split("\n")
            .map((c) => c.trim())
            .filter(Boolean)
        : [];
    const field = { key, name, type, choices: list, required: false };
    change.mutate({
      call: "POST /setup/fields",
      body: { fields: [...fields, field], tags, completeness },
      said: `“${name}” is a field now, in rules, forms and filters too.`,
      after: () => onMade(key),
    });
  };
  return (
    <Dialog title="A new field" onClose={onClose}>
      <form
        className={styles.stack}
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <Field
          label="What you call it"
          value={name}
          onChange={(e) => setName(e.target.value)}
          error={taken ? "There is one of that name." : undefined}
        />
        <Choice
          label="What it holds"
          value={type}
          options={TYPES}
          onChange={(v) => setType(v as OwnField["type"])}
        />
        {(type === "choice" || type === "choices") && (
          <Field
            label="Choices, separated by commas"
            value={choices.replace(/\n/g, ", ")}
            onChange={(e) => setChoices(e.target.value.replace(/,\s*/g, "\n"))}
          />
        )}
        <div>
          <Button type="submit" look="strong" disabled={!key || taken || change.isPending}>
            Make the field
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
