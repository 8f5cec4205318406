import { useState } from "react";
import { Field } from "../../ui/Field.tsx";

/** A number as it is typed; left empty it is what it was. */
export function Amount({
  label,
  value,
  least,
  onChange,
}: {
  readonly label: string;
  readonly value: number;
  readonly least: number;
  readonly onChange: (value: number) => void;
}) {
  const [text, setText] = useState(String(value));
  const shown = text === "" || Number(text) === value ? text : String(value);
  return (
    <Field
      label={label}
      type="number"
      step="any"
      min={least}
      value={shown}
      onBlur={() => setText(String(value))}
      onChange={(e) => {
        setText(e.target.value);
        if (e.target.value !== "") onChange(Number(e.target.value));
      }}
    />
  );
}
