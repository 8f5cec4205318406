import { useState } from "react";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Sortable, useGrip } from "../../ui/Sortable.tsx";
import type { Lists } from "../../wire/list-schemas.ts";
import styles from "./Leads.module.css";

type Column = Lists["columns"][number];

interface Props {
  readonly all: readonly Column[];
  readonly chosen: readonly string[];
  readonly onChange: (columns: string[]) => void;
  readonly onClose: () => void;
}

/** Which columns a list has, and in what order. The name stays: it is what opens the lead. */
export function ColumnsDialog({ all, chosen, onChange, onClose }: Props) {
  const [added, setAdded] = useState("");
  const columns = chosen.flatMap((key) => all.find((c) => c.key === key) ?? []);
  return (
    <Dialog title="Columns" onClose={onClose}>
      <Sortable
        items={columns}
        idOf={(c) => c.key}
        nameOf={(c) => c.name}
        onMove={(moved) => onChange(moved.map((c) => c.key))}
      >
        <ol className={styles.columns}>
          {columns.map((column) => (
            <Chosen
              key={column.key}
              column={column}
              onRemove={
                column.key === "name" ? undefined : () => onChange(chosen.filter((key) => key !== column.key))
              }
            />
          ))}
        </ol>
      </Sortable>
      <Choice
        label="Add a column"
        value={added}
        options={[
          { value: "", label: "Choose …" },
          ...all.filter((c) => !chosen.includes(c.key)).map((c) => ({ value: c.key, label: c.name })),
        ]}
        onChange={(key) => {
          setAdded("");
          if (key) onChange([...chosen, key]);
        }}
      />
    </Dialog>
  );
}

function Chosen({
  column,
  onRemove,
}: {
  readonly column: Column;
  readonly onRemove: (() => void) | undefined;
}) {
  const { ref, style, grip } = useGrip(column.key, column.name);
  return (
    <li ref={ref} style={style}>
      {grip}
      <span className={styles.columnName}>{column.name}</span>
      {onRemove && (
        <Button look="bare" onClick={onRemove}>
          Remove
        </Button>
      )}
    </li>
  );
}
