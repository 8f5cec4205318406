import { Paperclip } from "lucide-react";
import { upload } from "../live/api.ts";
import type { File as Kept } from "../wire/answering-schemas.ts";
import styles from "./Attach.module.css";
import { Button } from "./Button.tsx";
import { useSay } from "./Toasts.tsx";

interface Props {
  readonly files: readonly Kept[];
  readonly onChange: (files: readonly Kept[]) => void;
}

/** Choose files to send along; each is kept by the desk at once. */
export function Attach({ files, onChange }: Props) {
  const say = useSay();
  const attach = async (chosen: FileList | null) => {
    let all = files;
    for (const file of chosen ?? [])
      try {
        all = [...all, await upload("POST /files", file.name, file)];
      } catch (error) {
        say.wrong(error instanceof Error ? error.message : String(error));
      }
    onChange(all);
  };
  return (
    <label className={styles.attach}>
      <Paperclip size={14} aria-hidden="true" /> Attach
      <input
        type="file"
        multiple
        aria-label="Attach files"
        onChange={(e) => {
          void attach(e.target.files);
          e.target.value = "";
        }}
      />
    </label>
  );
}

/** The files that go along, each of which can be left out again. */
export function Attached({ files, onChange }: Props) {
  if (files.length === 0) return null;
  return (
    <ul className={styles.files} aria-label="Files sent along">
      {files.map((f) => (
        <li key={f.fileId}>
          {f.name}{" "}
          <Button
            look="bare"
            aria-label={`Leave out ${f.name}`}
            onClick={() => onChange(files.filter((x) => x !== f))}
          >
            Leave out
          </Button>
        </li>
      ))}
    </ul>
  );
}
