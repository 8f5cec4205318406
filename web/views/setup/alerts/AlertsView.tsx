import { useState } from "react";
import { useMe } from "../../../live/queries.ts";
import { useAlerts } from "../../../live/setup-queries.ts";
import { Choice } from "../../../ui/Choice.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { AlertMatrix, Browser } from "./AlertMatrix.tsx";
import { AlertWords } from "./AlertWords.tsx";

/** By which ways everybody hears of what. */
export function AlertsView() {
  return (
    <SetupFrame place="Alerts">
      <Alerts />
    </SetupFrame>
  );
}

function Alerts() {
  const { data, error } = useAlerts();
  const { data: me } = useMe();
  const [personId, setPerson] = useState("");
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  return (
    <>
      <h1>Alerts</h1>
      <p className={styles.intro}>
        Outside somebody’s hours an alert waits until they begin again. What is marked <em>at any hour</em>{" "}
        does not wait: a bell is about to ring, or has rung.
      </p>
      <div className={styles.row}>
        <Choice
          label="For whom"
          value={personId}
          options={[
            { value: "", label: "Everybody who has not chosen otherwise" },
            ...data.people.map((p) => ({ value: p.id, label: p.name, group: p.role })),
          ]}
          onChange={setPerson}
        />
        <Browser />
      </div>
      <AlertMatrix key={personId} personId={personId || null} />
      {personId === "" && me?.rights.includes("setup.change") && <AlertWords />}
    </>
  );
}
