import { useState } from "react";
import { type Shown, useListAct, useSaveList } from "../../live/list-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import type { SavedList } from "../../wire/list-schemas.ts";
import dialogs from "../desk/dialogs.module.css";

interface Props {
  /** The list that lies open; undefined for none. */
  readonly list: SavedList | undefined;
  readonly shown: Shown;
  readonly mayShare: boolean;
  readonly onClose: () => void;
  readonly onSaved: (id: string | null) => void;
}

const SHARED = [
  { value: "me", label: "only me" },
  { value: "desk", label: "everybody" },
  { value: "salesperson", label: "salespeople" },
  { value: "coordinator", label: "coordinators" },
  { value: "manager", label: "managers" },
] as const;

/** Keep a filter under a name: the list that lies open, or a new one. */
export function SaveDialog({ list, shown, mayShare, onClose, onSaved }: Props) {
  const [name, setName] = useState(list?.name ?? "");
  const [shared, setShared] = useState<string>(list?.shared ?? "me");
  const save = useSaveList();
  const { remove } = useListAct();
  const keep = (id: string | undefined) =>
    save.mutate(
      {
        ...(id && { id }),
        name,
        shared: shared as SavedList["shared"],
        where: shown.where,
        columns: [...shown.columns],
        sort: shown.sort,
        ...(!id && { pinned: true }),
      },
      {
        onSuccess: (kept) => {
          onSaved(kept.id);
          onClose();
        },
      },
    );
  const wrong = save.error ?? remove.error;
  return (
    <Dialog title={list ? `Keep “${list.name}”` : "Keep as a list"} onClose={onClose}>
      <form
        className={dialogs.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) keep(list?.mine ? list.id : undefined);
        }}
      >
        <Field label="Name" value={name} autoFocus onChange={(e) => setName(e.target.value)} />
        {mayShare && <Choice label="Who sees it" value={shared} options={[...SHARED]} onChange={setShared} />}
        {wrong && <p role="alert">{wrong.message}</p>}
        <div className={dialogs.send}>
          <Button type="submit" look="strong" disabled={!name.trim() || save.isPending}>
            {list?.mine ? "Keep" : "Keep as a new list"}
          </Button>
          {list?.mine && (
            <>
              <Button disabled={!name.trim()} onClick={() => keep(undefined)}>
                Keep as another
              </Button>
              <Button
                look="bare"
                onClick={() =>
                  remove.mutate(list.id, {
                    onSuccess: () => {
                      onSaved(null);
                      onClose();
                    },
                  })
                }
              >
                Remove the list
              </Button>
            </>
          )}
        </div>
      </form>
    </Dialog>
  );
}
