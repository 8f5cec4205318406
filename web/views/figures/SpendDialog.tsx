import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../../live/api.ts";
import { useSpend } from "../../live/figure-queries.ts";
import { useSources } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import hidden from "../../ui/hidden.module.css";
import { useSay } from "../../ui/Toasts.tsx";
import styles from "./Figures.module.css";

/** So much of a file is read: the API takes no more. */
const MOST = 300_000;

/** What sources have cost: by hand, a month at a time, or from a table. */
export function SpendDialog({ onClose }: { readonly onClose: () => void }) {
  const { data } = useSpend();
  const { data: sources } = useSources();
  const client = useQueryClient();
  const say = useSay();
  const [problems, setProblems] = useState<readonly string[]>([]);
  const done = (said: string) => {
    say.done(said);
    void client.invalidateQueries({ queryKey: ["figures"] });
  };
  const [sourceId, setSource] = useState("");
  const [campaign, setCampaign] = useState("");
  const [month, setMonth] = useState("");
  const [amount, setAmount] = useState("");
  const [currency, setCurrency] = useState("");
  const chosen = sourceId || sources?.[0]?.id || "";
  const money = currency || data?.currency || "";
  const save = useMutation({
    mutationFn: (row: {
      amount: number;
      sourceId: string;
      campaign?: string;
      month: string;
      currency: string;
    }) => call("POST /figures/spend", { body: { rows: [row] } }),
    onSuccess: (_, row) => {
      done(row.amount === 0 ? "Taken out." : "Kept.");
      setAmount("");
      setProblems([]);
    },
    onError: (error) => setProblems([error.message]),
  });
  const load = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > MOST) throw new Error("The file is larger than 300 kB. Send a part of it.");
      return call("POST /figures/spend/file", { body: { text: await file.text() } });
    },
    onSuccess: ({ kept, problems: wrong }) => {
      setProblems(
        wrong.length > 0 ? [...wrong, "Nothing was kept: mend these lines and load it again."] : [],
      );
      if (wrong.length === 0) done(kept === 1 ? "1 row kept." : `${kept} rows kept.`);
    },
    onError: (error) => setProblems([error.message]),
  });
  return (
    <Dialog title="What sources cost" onClose={onClose} as="wide">
      <form
        className={styles.asks}
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate({
            sourceId: chosen,
            ...(campaign.trim() && { campaign: campaign.trim() }),
            month,
            amount: Number(amount.replace(",", ".")),
            currency: money.toUpperCase(),
          });
        }}
      >
        <Choice
          label="Source"
          value={chosen}
          options={(sources ?? []).map((s) => ({ value: s.id, label: s.name }))}
          onChange={setSource}
        />
        <Field label="Campaign, if any" value={campaign} onChange={(e) => setCampaign(e.target.value)} />
        <Field
          label="Month"
          type="month"
          required
          value={month}
          onChange={(e) => setMonth(e.target.value)}
          placeholder="2026-03"
        />
        <Field
          label="Amount"
          required
          inputMode="decimal"
          value={amount}
          onChange={(e) => setAmount(e.target.value)}
        />
        <Field label="Currency" value={money} onChange={(e) => setCurrency(e.target.value)} maxLength={3} />
        <Button type="submit" look="strong" disabled={save.isPending || !month || amount.trim() === ""}>
          Keep
        </Button>
      </form>
      <p className={styles.note}>
        Or load a table (CSV) with the columns source, campaign, month, amount, currency:{" "}
        <input
          type="file"
          accept=".csv,text/csv"
          aria-label="Table of spend"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) load.mutate(file);
            e.target.value = "";
          }}
        />
      </p>
      {problems.length > 0 && (
        <ul role="alert">
          {problems.map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
        </ul>
      )}
      {data?.rows.length === 0 && (
        <p className={styles.note}>Nothing is entered yet: what a lead costs is told once it is.</p>
      )}
      {data && data.rows.length > 0 && (
        <div className={styles.wide}>
          <table className={styles.table}>
            <thead>
              <tr>
                <th scope="col">Source</th>
                <th scope="col">Campaign</th>
                <th scope="col">Month</th>
                <th scope="col">Amount</th>
                <th scope="col">Entered by</th>
                <th scope="col">
                  <span className={hidden.hidden}>Take out</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row) => (
                <tr key={`${row.sourceId} ${row.campaign} ${row.month} ${row.currency}`}>
                  <th scope="row">{row.source}</th>
                  <td>{row.campaign}</td>
                  <td>{row.month}</td>
                  <td>
                    {row.amount.toLocaleString("en")} {row.currency}
                  </td>
                  <td>{row.by}</td>
                  <td>
                    <Button
                      look="bare"
                      onClick={() => {
                        const { sourceId: of, campaign: named, month: then, currency: inMoney } = row;
                        save.mutate({
                          sourceId: of,
                          ...(named && { campaign: named }),
                          month: then,
                          amount: 0,
                          currency: inMoney,
                        });
                      }}
                    >
                      Take out
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Dialog>
  );
}
