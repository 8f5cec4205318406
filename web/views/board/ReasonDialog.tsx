import { useState } from "react";
import { Button } from "../../ui/Button.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import { KeyHint } from "../../ui/KeyHint.tsx";
import type { Board, DealCard } from "../../wire/customer-schemas.ts";
import list from "../desk/dialogs.module.css";

export interface Move {
  readonly deal: DealCard;
  readonly end: Pick<Board["ends"][number], "stage" | "name" | "reasons">;
}

/** Why a deal ends, chosen by a press or a number. */
export function ReasonDialog({
  move: { deal, end },
  onClose,
  onReason,
}: {
  readonly move: Move;
  readonly onClose: () => void;
  readonly onReason: (reason: string) => void;
}) {
  const [own, setOwn] = useState("");
  return (
    <Dialog
      title={`${deal.who}: ${end.name.toLowerCase()}. Why?`}
      onClose={onClose}
      onKeyDown={(event) => {
        if (event.target instanceof HTMLInputElement) return;
        const reason = end.reasons[Number(event.key) - 1];
        if (reason) onReason(reason);
      }}
    >
      {end.reasons.length > 0 ? (
        <ol className={list.list}>
          {end.reasons.map((reason, i) => (
            <li key={reason}>
              <button type="button" className={list.option} onClick={() => onReason(reason)}>
                <KeyHint keys={String(i + 1)} />
                <span>{reason}</span>
              </button>
            </li>
          ))}
        </ol>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (own.trim()) onReason(own.trim());
          }}
        >
          <Field label="Why" value={own} onChange={(e) => setOwn(e.target.value)} />
          <Button type="submit" look="strong" disabled={!own.trim()}>
            {end.name}
          </Button>
        </form>
      )}
    </Dialog>
  );
}
