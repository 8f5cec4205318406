import { Temporal } from "temporal-polyfill";

const HOUR = 3_600_000;
const DAY = 86_400_000;
/** The day all times are counted from was a Thursday: three days after a Monday. */
const THURSDAY = 3;

interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly offset: number;
}

const stretches = new Map<string, Stretch[]>();

/** How far a zone's clock is ahead of UTC at a time, and for how long that holds. */
function stretchAt(at: number, zone: string): Stretch {
  const then = Temporal.Instant.fromEpochMilliseconds(Math.floor(at)).toZonedDateTimeISO(zone);
  return {
    // A change at this very moment is the one that holds.
    from:
      then.add({ milliseconds: 1 }).getTimeZoneTransition("previous")?.epochMilliseconds ??
      Number.NEGATIVE_INFINITY,
    to: then.getTimeZoneTransition("next")?.epochMilliseconds ?? Number.POSITIVE_INFINITY,
    offset: then.offsetNanoseconds / 1e6,
  };
}

/**
 * At which hour of a zone's week something was: 0 is Monday from midnight, 167 Sunday's last. For many times of one zone: what
 * the clock was ahead is remembered between its changes.
 * @throws RangeError when there is no such zone.
 */
export function hourOfWeek(at: number, zone: string): number {
  let known = stretches.get(zone);
  if (!known) {
    known = [];
    stretches.set(zone, known);
  }
  let stretch = known.find((s) => s.from <= at && at < s.to);
  if (!stretch) {
    stretch = stretchAt(at, zone);
    known.unshift(stretch);
  }
  const local = at + stretch.offset;
  const day = (((Math.floor(local / DAY) + THURSDAY) % 7) + 7) % 7;
  return day * 24 + Math.floor((((local % DAY) + DAY) % DAY) / HOUR);
}
