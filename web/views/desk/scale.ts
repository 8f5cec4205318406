/** Where time hangs on the wire: a scale that stretches the last minutes. */

/** Minutes to the bell → share of the wire's width, from left to right. */
const STOPS = [
  [60, 0.03],
  [15, 0.24],
  [5, 0.48],
  [2, 0.66],
  [0, 0.84],
] as const;
/** Past the bell the wire goes on for an hour, much compressed. */
const END = 0.975;

/** The place on the wire (0 left … 1 right) of something due in `ms`; negative when its bell has rung. */
export function placeOnWire(ms: number): number {
  const minutes = ms / 60_000;
  if (minutes <= 0) return 0.875 + (END - 0.875) * Math.min(1, Math.sqrt(-minutes / 60));
  for (let i = 1; i < STOPS.length; i++) {
    const [far, left] = STOPS[i - 1]!;
    const [near, right] = STOPS[i]!;
    if (minutes >= near)
      return left + (right - left) * Math.min(1, Math.max(0, (far - minutes) / (far - near)));
  }
  return STOPS.at(-1)![1];
}

/** The marks drawn under the wire. */
export const MARKS = STOPS.slice(0, -1).map(([minutes, at]) => ({ at, label: `${minutes} min` }));
export const BELL = STOPS.at(-1)![1];

/** Things on the wire closer than `gap` hang together. Input and groups are ordered from left to right. */
export function bunch<T extends { readonly at: number }>(things: readonly T[], gap: number): T[][] {
  const groups: T[][] = [];
  for (const thing of [...things].sort((a, b) => a.at - b.at)) {
    const last = groups.at(-1);
    if (last && thing.at - last[0]!.at < gap) last.push(thing);
    else groups.push([thing]);
  }
  return groups;
}
