import { useState } from "react";
import { decodeTable } from "../../../../core/import/table.ts";
import { valueNames } from "../../../../core/policy/setup.ts";
import { useChoices, useCompany, useTerritories } from "../../../live/company-queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { TerritoriesSetup, Territory } from "../../../wire/company-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { TerritoryEditor } from "./TerritoryEditor.tsx";
import { Uses } from "./Uses.tsx";

/** The places that are told apart, by postal code and area code. */
export function TerritoriesView() {
  return (
    <SetupFrame place="Territories">
      <Territories />
    </SetupFrame>
  );
}

const draftOf = ({ territories }: TerritoriesSetup): Territory[] =>
  territories.map(({ uses: _, ...territory }) => territory);
const lower = (name: string) => name.trim().toLowerCase();

/** What was read from a table, put over what stands there: a territory of the same name is replaced and keeps its key. */
function over(before: readonly Territory[], read: readonly Territory[]): Territory[] {
  const fresh = new Map(read.map((t) => [lower(t.name), t]));
  const kept = before.map((t) => {
    const now = fresh.get(lower(t.name));
    fresh.delete(lower(t.name));
    return now ? { ...now, key: t.key } : t;
  });
  return [...kept, ...fresh.values()];
}

const counted = (n: number, one: string, many: string) => (n === 0 ? "" : `${n} ${n === 1 ? one : many}`);
/** What a territory is told by, in a few words. */
const toldBy = ({ postalPrefixes, areaCodes }: Territory) =>
  [
    counted(postalPrefixes.length, "postal beginning", "postal beginnings"),
    counted(areaCodes.length, "area code", "area codes"),
  ]
    .filter(Boolean)
    .join(", ") || "▲ nothing yet: no lead can be from here";

function Territories() {
  const { data, error } = useTerritories();
  const { data: mine } = useCompany();
  const { data: choices } = useChoices();
  const save = useChange();
  const [open, setOpen] = useState<number | null>(null);
  const [draft, setDraft] = useSetupDraft<Territory[]>("territories", data ? draftOf(data) : null);
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data || !mine || !choices) return <p className={styles.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  const { country, languages } = mine.company;
  const fresh: Territory = {
    key: "",
    name: "",
    country,
    zone: mine.zone,
    language: languages[0] ?? "en",
    areaCodes: [],
    postalPrefixes: [],
  };
  const countryOf = (key: string) => choices.countries.find((c) => c.key === key)?.name ?? key;
  const usesOf = (key: string) => data.territories.find((t) => t.key === key)?.uses ?? [];
  return (
    <>
      <div className={styles.top}>
        <h1>Territories</h1>
        <div className={styles.row}>
          <Button look="strong" onClick={() => setOpen(draft.length)}>
            Add a territory
          </Button>
          <FromTable onRead={(read) => setDraft((before) => over(before ?? [], read))} />
          {data.territories.length > 0 && (
            <a href="/api/v1/setup/territories/table" download="territories.csv">
              Save as a table
            </a>
          )}
        </div>
      </div>
      <p className={styles.intro}>
        Where a lead is from is told by its postal code, else by the area code of its number; the longest
        beginning that is known counts. The territory gives it a zone, a language, and whoever covers it.
      </p>
      {draft.length === 0 ? (
        <Empty title="No territory yet">
          <p>
            Add the places you tell apart, or bring a table with the columns name, country, zone, language,
            area codes and postal codes. One who sells everywhere needs none.
          </p>
        </Empty>
      ) : (
        <table className={`${styles.table} ${styles.cards}`}>
          <thead>
            <tr>
              <th>Name</th>
              <th>Told by</th>
              <th>Clock and language</th>
              <th>Used by</th>
              <ActsHead />
            </tr>
          </thead>
          <tbody className={styles.mid}>
            {draft.map((territory, i) => (
              <tr key={territory.key || `new ${territory.name}`}>
                <td>
                  <button type="button" className={styles.open} data-row onClick={() => setOpen(i)}>
                    {territory.name}
                  </button>
                  <div className={styles.quiet}>{countryOf(territory.country)}</div>
                </td>
                <td>{toldBy(territory)}</td>
                <td className={styles.quiet}>
                  {territory.zone.replace(/_/g, " ")}, {valueNames.language(territory.language)}
                </td>
                <td>
                  <Uses of={usesOf(territory.key)} />
                </td>
                <td>
                  <Button
                    look="bare"
                    aria-label={`Remove ${territory.name}`}
                    disabled={usesOf(territory.key).length > 0}
                    onClick={() => setDraft(draft.filter((_, j) => i !== j))}
                  >
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/territories",
              body: { territories: draft },
              said: "In force from now on.",
              after: (now) => setDraft(draftOf(now)),
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
      {open !== null && (
        <TerritoryEditor
          territory={draft[open] ?? fresh}
          others={draft.filter((_, i) => i !== open).map((t) => lower(t.name))}
          choices={choices}
          onClose={() => setOpen(null)}
          onKeep={(next) => {
            setDraft(open < draft.length ? draft.map((t, i) => (i === open ? next : t)) : [...draft, next]);
            setOpen(null);
          }}
        />
      )}
    </>
  );
}

/** Bring a table: it is read and put among what is being changed, so that it can be looked at first. */
function FromTable({ onRead }: { readonly onRead: (read: Territory[]) => void }) {
  const change = useChange();
  const say = useSay();
  const read = async (file: File | undefined) => {
    if (!file) return;
    change.mutate({
      call: "POST /setup/territories/read",
      body: { table: decodeTable(new Uint8Array(await file.arrayBuffer())) },
      said: "",
      after: ({ territories, wrong }) => {
        onRead(territories);
        const [first] = wrong;
        if (first)
          say.wrong(
            `${territories.length} read. ${wrong.length === 1 ? "One row was" : `${wrong.length} rows were`} left out. Row ${first.row}: ${first.said}`,
          );
        else say.done(`${territories.length} read. They hold once the page is put in force.`);
      },
    });
  };
  return (
    <>
      <input
        id="kb-territories"
        type="file"
        accept=".csv,.tsv,.txt,text/csv,text/plain"
        hidden
        onChange={(event) => {
          void read(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      <Button disabled={change.isPending} onClick={() => document.getElementById("kb-territories")?.click()}>
        From a table
      </Button>
    </>
  );
}
