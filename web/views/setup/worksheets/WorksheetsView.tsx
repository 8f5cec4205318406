import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useInAddress } from "../../../live/address.ts";
import { call } from "../../../live/api.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { useWorksheets } from "../../../live/stage-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { EditTable } from "../../../ui/EditTable.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import type { Worksheet, WorksheetsSetup } from "../../../wire/customer-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Worksheets.module.css";

/** How estimates are reckoned, and what their documents look like. */
export function WorksheetsView() {
  return (
    <SetupFrame place="Worksheets">
      <Worksheets />
    </SetupFrame>
  );
}

type Draft = Pick<WorksheetsSetup, "worksheets" | "layout">;

const NEW: Worksheet = {
  id: "",
  version: 0,
  name: "New worksheet",
  product: null,
  inputs: [{ key: "price", name: "Price of one", type: "money", from: "value", usual: null }],
  lines: [{ key: "net", name: "Price", formula: "price", shown: true, roundTo: null }],
  total: "net",
  tax: "0",
  taxName: "Tax",
  validDays: 30,
  terms: "",
};

function Worksheets() {
  const { data, error } = useWorksheets();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<Draft>(
    "worksheets",
    data ? { worksheets: data.worksheets, layout: data.layout } : null,
  );
  const [open, setOpen] = useInAddress("sheet");
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={setup.quiet}>Looking …</p>;
  const changed =
    JSON.stringify(draft) !== JSON.stringify({ worksheets: data.worksheets, layout: data.layout });
  const at = Math.max(0, Math.min(draft.worksheets.length - 1, Number(open ?? 0) || 0));
  const sheet = draft.worksheets[at];
  const put = (change: Partial<Worksheet>) =>
    setDraft({ ...draft, worksheets: draft.worksheets.map((w, i) => (i === at ? { ...w, ...change } : w)) });
  const { layout } = draft;
  return (
    <>
      <h1>Worksheets</h1>
      <p className={setup.intro}>
        How a price is reckoned: what is typed in, and lines that say what becomes of it, in plain arithmetic.
      </p>
      <div className={setup.row}>
        <Choice
          label="Worksheet"
          quiet
          value={String(at)}
          options={draft.worksheets.map((w, i) => ({ value: String(i), label: w.name }))}
          onChange={(next) => setOpen(next, { replace: true })}
        />
        <Button
          onClick={() => {
            setDraft({ ...draft, worksheets: [...draft.worksheets, NEW] });
            setOpen(String(draft.worksheets.length), { replace: true });
          }}
        >
          Add a worksheet
        </Button>
        {sheet && (
          <Button
            look="bare"
            onClick={() => setDraft({ ...draft, worksheets: draft.worksheets.filter((_, i) => i !== at) })}
          >
            Remove this one
          </Button>
        )}
      </div>
      {sheet ? (
        <Sheet key={at} sheet={sheet} data={data} onPut={put} />
      ) : (
        <Empty title="No worksheet yet">Add one: a price, a line, and what is to be paid.</Empty>
      )}
      <section aria-label="The document" className={styles.part}>
        <h2>The document</h2>
        <div className={styles.two}>
          <Choice
            label="Paper"
            value={layout.paper}
            options={[
              { value: "LETTER", label: "Letter" },
              { value: "A4", label: "A4" },
            ]}
            onChange={(paper) =>
              setDraft({ ...draft, layout: { ...layout, paper: paper as "LETTER" | "A4" } })
            }
          />
          <Field
            label="At the foot of each page"
            value={layout.footer}
            onChange={(e) => setDraft({ ...draft, layout: { ...layout, footer: e.target.value } })}
          />
        </div>
        <Area
          label="Under the company’s name"
          rows={3}
          value={layout.sender}
          onChange={(e) => setDraft({ ...draft, layout: { ...layout, sender: e.target.value } })}
        />
      </section>
      {changed && (
        <SaveBar
          saving={save.isPending}
          draft={draft}
          onDraft={setDraft}
          onSave={() =>
            save.mutate({
              call: "POST /setup/worksheets",
              body: draft,
              said: "In force from now on. Estimates made before stay as they are.",
              after: (now) => setDraft({ worksheets: now.worksheets, layout: now.layout }),
            })
          }
        />
      )}
    </>
  );
}

function freshKey(taken: readonly string[], base: string): string {
  let n = 1;
  while (taken.includes(`${base}${n}`)) n++;
  return `${base}${n}`;
}

function Sheet({
  sheet,
  data,
  onPut,
}: {
  readonly sheet: Worksheet;
  readonly data: WorksheetsSetup;
  readonly onPut: (change: Partial<Worksheet>) => void;
}) {
  const [tried, setTried] = useState<Record<string, string>>({});
  const inputs = Object.fromEntries(sheet.inputs.map((i) => [i.key, tried[i.key] ?? i.usual ?? "1"]));
  const { data: result } = useQuery({
    queryKey: ["worksheet-try", sheet, inputs],
    queryFn: () => call("POST /setup/worksheets/try", { body: { worksheet: sheet, inputs } }),
    placeholderData: (before) => before,
  });
  const faultOf = (path: string) =>
    result?.faults.find((f) => f.path === path || f.path.startsWith(`${path}.`))?.message;
  const keys = [...sheet.inputs, ...sheet.lines].map((x) => x.key);
  return (
    <div className={styles.sheet}>
      <div className={styles.two}>
        <Field
          label="Name"
          value={sheet.name}
          error={faultOf("name")}
          onChange={(e) => onPut({ name: e.target.value })}
        />
        <Choice
          label="For the product"
          value={sheet.product ?? ""}
          options={[
            { value: "", label: "any" },
            ...data.products.map((p) => ({ value: p.key, label: p.name })),
          ]}
          onChange={(product) => onPut({ product: product || null })}
        />
      </div>
      <h2>What is typed in</h2>
      <EditTable
        rows={sheet.inputs}
        onChange={(inputs) => onPut({ inputs })}
        add="Add an input"
        fresh={() => ({
          key: freshKey(keys, "input"),
          name: "New input",
          type: "number" as const,
          from: null,
          usual: null,
        })}
        columns={[
          {
            name: "Name",
            cell: (input, put) => (
              <Field label="Name" quiet value={input.name} onChange={(e) => put({ name: e.target.value })} />
            ),
          },
          {
            name: "In formulas",
            cell: (input, put, i) => (
              <Field
                label="Name in formulas"
                quiet
                value={input.key}
                error={faultOf(`inputs.${i}`) ?? faultOf(`inputs.${input.key}`)}
                onChange={(e) => put({ key: e.target.value })}
              />
            ),
          },
          {
            name: "Is",
            cell: (input, put) => (
              <Choice
                label="Is"
                quiet
                value={input.type}
                options={[
                  { value: "money", label: data.currency },
                  { value: "number", label: "a number" },
                  { value: "percent", label: "%" },
                ]}
                onChange={(type) => put({ type: type as "money" })}
              />
            ),
          },
          {
            name: "Filled in from",
            cell: (input, put) => (
              <Choice
                label="Filled in from"
                quiet
                value={input.from ?? ""}
                options={[
                  { value: "", label: "typed" },
                  ...data.fields.map((f) => ({ value: f.key, label: f.name })),
                ]}
                onChange={(from) => put({ from: from || null })}
              />
            ),
          },
          {
            name: "Usually",
            cell: (input, put) => (
              <Field
                label="Usually"
                quiet
                value={input.usual ?? ""}
                onChange={(e) => put({ usual: e.target.value || null })}
              />
            ),
          },
          {
            name: "Try with",
            cell: (input) => (
              <Field
                label="Try with"
                quiet
                value={tried[input.key] ?? input.usual ?? "1"}
                onChange={(e) => setTried({ ...tried, [input.key]: e.target.value })}
              />
            ),
          },
        ]}
      />
      <h2>What is reckoned, in order</h2>
      <p className={setup.quiet}>
        Numbers, names from above, + − × ÷ and %, and {data.functions.join(", ")}. “if(miles &gt; 50, 300, 0)”
        is 300 beyond fifty miles; “round(x, 50)” rounds to fifties.
      </p>
      <EditTable
        rows={sheet.lines}
        onChange={(lines) => onPut({ lines })}
        add="Add a line"
        fresh={() => ({
          key: freshKey(keys, "line"),
          name: "New line",
          formula: "0",
          shown: true,
          roundTo: null,
        })}
        columns={[
          {
            name: "Line",
            cell: (line, put) => (
              <Field label="Line" quiet value={line.name} onChange={(e) => put({ name: e.target.value })} />
            ),
          },
          {
            name: "In formulas",
            cell: (line, put) => (
              <Field
                label="Name in formulas"
                quiet
                value={line.key}
                onChange={(e) => put({ key: e.target.value })}
              />
            ),
          },
          {
            name: "Formula",
            wide: true,
            cell: (line, put, i) => (
              <Field
                label={`Formula of ${line.name}`}
                quiet
                spellCheck={false}
                value={line.formula}
                error={faultOf(`lines.${i}`) ?? faultOf(`lines.${line.key}`)}
                onChange={(e) => put({ formula: e.target.value })}
              />
            ),
          },
          {
            name: "Comes to",
            cell: (_line, _put, i) => (
              <span className={styles.figure}>{result?.ok ? result.lines[i]?.said : ""}</span>
            ),
          },
          {
            name: "Shown",
            cell: (line, put) => (
              <input
                type="checkbox"
                aria-label={`${line.name} stands on the document`}
                checked={line.shown ?? true}
                onChange={(e) => put({ shown: e.target.checked })}
              />
            ),
          },
          {
            name: "Is the price",
            cell: (line) => (
              <input
                type="radio"
                name="total"
                aria-label={`${line.name} is the price`}
                checked={sheet.total === line.key}
                onChange={() => onPut({ total: line.key })}
              />
            ),
          },
        ]}
      />
      <p className={styles.total} role="status">
        {result?.ok
          ? `Comes to ${result.total}${result.tax !== "$0" ? `, tax ${result.tax} included` : ""}.`
          : "It can’t be worked out yet."}
      </p>
      <div className={styles.two}>
        <Field
          label="Tax, %"
          value={sheet.tax}
          error={faultOf("tax")}
          onChange={(e) => onPut({ tax: e.target.value })}
        />
        <Field
          label="What the tax is called"
          value={sheet.taxName}
          onChange={(e) => onPut({ taxName: e.target.value })}
        />
        <Field
          label="The price holds, days"
          type="number"
          value={sheet.validDays}
          error={faultOf("validDays")}
          onChange={(e) => onPut({ validDays: Math.round(Number(e.target.value)) || 1 })}
        />
      </div>
      <Area
        label="Under the lines"
        rows={3}
        value={sheet.terms}
        onChange={(e) => onPut({ terms: e.target.value })}
      />
    </div>
  );
}
