import { useState } from "react";
import { marksOn, placeOn } from "../../../ui/score-scale.ts";
import type { PreviewOfCadence } from "../../../wire/cadence-schemas.ts";
import styles from "./Cadences.module.css";
import { kindSaid, STAVES, staveOf } from "./cadence-words.ts";

interface Props {
  readonly preview: PreviewOfCadence;
  /** From which touch (1-based) it is played again. */
  readonly again: { readonly from: number; readonly times: number | null } | null;
  readonly chosen: number | null;
  readonly onChoose: (n: number) => void;
}

const WIDTH = 1000;
const LEFT = 64;
const RIGHT = 30;
const TOP = 18;
const GAP = 34;
const HEIGHT = TOP + GAP * STAVES.length + 22;

const staveY = (i: number) => TOP + GAP * (i + 0.5);
const NAMES = { call: "calls", text: "texts", email: "mails", ours: "ours" } as const;

/** A cadence as a score: days run to the right, the first hours stretched; four staves, rests where the desk is closed. */
export function Score({ preview, again, chosen, onChoose }: Props) {
  const start = Date.parse(preview.startAt);
  const times = preview.touches.map((t) => Date.parse(t.at) - start);
  const last = Math.max(86_400_000, ...times) * 1.04;
  const x = (ms: number) => LEFT + placeOn(ms, last) * (WIDTH - LEFT - RIGHT);
  const [hovered, hover] = useState<number | null>(null);
  const shown = preview.touches[hovered ?? -1];
  const repeat = again ? preview.touches.find((t) => t.n === again.from && t.round === 0) : null;
  return (
    <figure className={styles.score}>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label="The cadence as a score; the list below says the same"
      >
        {preview.days
          .filter((d) => !d.open)
          .map((d) => {
            const from = x(Math.max(0, Date.parse(d.begins) - start));
            const to = x(Date.parse(d.ends) - start);
            return (
              <rect
                key={d.date}
                className={styles.rest}
                x={from}
                width={Math.max(0, to - from)}
                y={TOP}
                height={GAP * STAVES.length}
              />
            );
          })}
        {marksOn(last).map((mark) => (
          <g key={mark.label}>
            <line
              className={styles.bar}
              x1={x(mark.ms)}
              x2={x(mark.ms)}
              y1={TOP}
              y2={TOP + GAP * STAVES.length}
            />
            <text
              className={styles.mark}
              x={x(mark.ms)}
              y={HEIGHT - 6}
              textAnchor={mark.ms === 0 ? "start" : "middle"}
            >
              {mark.label}
            </text>
          </g>
        ))}
        {STAVES.map((stave, i) => (
          <g key={stave}>
            <line className={styles.stave} x1={LEFT} x2={WIDTH - RIGHT} y1={staveY(i)} y2={staveY(i)} />
            <text className={styles.name} x={10} y={staveY(i) + 4}>
              {NAMES[stave]}
            </text>
          </g>
        ))}
        {preview.days
          .filter((d) => d.clock)
          .map((d) => (
            <text
              key={d.date}
              className={styles.clock}
              x={x(Math.max(0, Date.parse(d.begins) - start))}
              y={12}
            >
              ◷ clocks go {d.clock}
            </text>
          ))}
        {repeat && (
          <g className={styles.repeat}>
            <line
              x1={x(Date.parse(repeat.at) - start) - 14}
              x2={x(Date.parse(repeat.at) - start) - 14}
              y1={TOP}
              y2={TOP + GAP * STAVES.length}
            />
            <circle cx={x(Date.parse(repeat.at) - start) - 9} cy={staveY(1)} r={2} />
            <circle cx={x(Date.parse(repeat.at) - start) - 9} cy={staveY(2)} r={2} />
          </g>
        )}
        {preview.touches.map((touch, i) => {
          const stave = staveOf(touch.kind);
          return (
            // biome-ignore lint/a11y/noStaticElementInteractions: the list beside it does the same by keyboard
            <g
              // biome-ignore lint/suspicious/noArrayIndexKey: a touch is told by its place alone
              key={i}
              className={styles.note}
              data-kind={touch.kind}
              data-skipped={touch.skipped !== null || undefined}
              data-chosen={chosen === touch.n || undefined}
              data-again={touch.round > 0 || undefined}
              transform={`translate(${x(times[i]!)} ${staveY(stave)})`}
              onClick={() => onChoose(touch.n)}
              onMouseEnter={() => hover(i)}
              onMouseLeave={() => hover(null)}
            >
              <path d="M0 -9 9 0 0 9 -9 0Z" />
              <text y={4} textAnchor="middle">
                {touch.n}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className={styles.caption}>
        {shown ? (
          <>
            <b>
              {shown.n}. {kindSaid(shown.kind)}
            </b>
            , {shown.when}: {shown.skipped ? `left out, ${shown.skipped}` : shown.said.slice(0, 110)}
          </>
        ) : (
          "Shaded: the desk is closed. A hollow mark is left out."
        )}
      </figcaption>
    </figure>
  );
}
