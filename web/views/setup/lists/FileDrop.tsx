import { useState } from "react";
import { upload } from "../../../live/api.ts";
import { Button } from "../../../ui/Button.tsx";
import type { ImportPreview } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";

/** Choose a file or drop it here; it is kept and read far enough to show what it holds. */
export function FileDrop({ onRead }: { readonly onRead: (preview: ImportPreview) => void }) {
  const [over, setOver] = useState(false);
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const read = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setWrong(null);
    try {
      onRead(await upload("POST /imports/preview", file.name, file));
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is beside the button, which does the same
    <div
      className={styles.drop}
      data-over={over}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void read(event.dataTransfer.files[0]);
      }}
    >
      <input
        id="kb-file"
        type="file"
        accept=".csv,.tsv,.txt,text/csv,text/plain"
        hidden
        onChange={(event) => {
          void read(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      <Button look="strong" disabled={busy} onClick={() => document.getElementById("kb-file")?.click()}>
        {busy ? "Reading …" : "Choose a file"}
      </Button>
      <span className={styles.quiet}>
        or drop a CSV file here: any delimiter, any usual encoding, up to 200,000 rows
      </span>
      {wrong && (
        <p className={styles.wrong} role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
