import { type ReactNode, useId, useState } from "react";
import { writeTable } from "../../core/import/table.ts";
import { Button } from "./Button.tsx";
import styles from "./Plot.module.css";
import { Scrolls } from "./Scrolls.tsx";
import { type Drawn, toPng, useChart } from "./use-chart.ts";

export interface PlotTable {
  readonly head: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

interface Props {
  readonly title: string;
  /** What the figures mean and what they are told from. */
  readonly said: ReactNode;
  /** What the picture shows, for whoever can’t see it. */
  readonly label: string;
  readonly draw: Drawn;
  readonly height: number;
  readonly table: PlotTable;
  /** What files of it are called, without an ending. */
  readonly file: string;
  readonly children?: ReactNode;
}

/** A file made here, to be kept. */
function download(href: string, name: string): void {
  const link = document.createElement("a");
  link.href = href;
  link.download = name;
  link.click();
}

/** A chart with what it means, its figures as a table, and both as files. */
export function Plot({ title, said, label, draw, height, table, file, children }: Props) {
  const [asTable, setAsTable] = useState(false);
  const node = useChart(draw);
  const heading = useId();
  const saveTable = () => {
    const blob = new Blob([writeTable(table.head, table.rows)], { type: "text/csv" });
    const href = URL.createObjectURL(blob);
    download(href, `${file}.csv`);
    URL.revokeObjectURL(href);
  };
  const savePicture = () => {
    const width = Math.max(320, node.current?.clientWidth ?? 0);
    download(toPng(draw, { width, height }), `${file}.png`);
  };
  return (
    <section className={styles.plot} aria-labelledby={heading}>
      <header className={styles.head}>
        <h2 id={heading}>{title}</h2>
        <span className={styles.tools}>
          <Button look="bare" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
            {asTable ? "Chart" : "Table"}
          </Button>
          <Button look="bare" onClick={saveTable}>
            CSV
          </Button>
          <Button look="bare" onClick={savePicture}>
            PNG
          </Button>
        </span>
      </header>
      <p className={styles.said}>{said}</p>
      {children}
      <div ref={node} role="img" aria-label={label} hidden={asTable} style={{ height }} />
      {asTable && <Figures table={table} title={title} />}
    </section>
  );
}

/** Figures in rows, the first column naming them. */
export function Figures({
  table: { head, rows },
  title,
}: {
  readonly table: PlotTable;
  readonly title: string;
}) {
  return (
    <Scrolls label={`${title}: table`} most={460}>
      <table className={styles.table}>
        <thead>
          <tr>
            {head.map((name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, ...cells]) => (
            <tr key={[name, ...cells].join("|")}>
              <th scope="row">{name}</th>
              {cells.map((cell, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: columns have no other name, and never change places
                <td key={i}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Scrolls>
  );
}
