import { timezones } from "libphonenumber-geo-carrier";
import { parsePhoneNumberFromString } from "libphonenumber-js";
import { describe, expect, it } from "vitest";
import { zonesOfPhone } from "./area-zone.ts";
import type { E164 } from "./phone.ts";

/** Source: the time zones of phone prefixes that Google publishes with libphonenumber, by a package of their own. */

const AREAS = Array.from({ length: 800 }, (_, i) => String(200 + i));
const numberIn = (area: string) => `+1${area}5550123` as E164;
/** A prefix that lies anywhere says nothing: those of no place are given every zone of the numbering plan. */
const ANYWHERE = 8;

/** How a zone's clock stands in winter and in summer: what quiet hours are reckoned by. */
function clockOf(zone: string): string {
  const offset = (month: number) =>
    new Intl.DateTimeFormat("en-US", { timeZone: zone, timeZoneName: "longOffset" })
      .formatToParts(Date.UTC(2026, month, 15, 12))
      .find((part) => part.type === "timeZoneName")!.value;
  return `${offset(0)}, ${offset(6)}`;
}

async function placed(): Promise<{ area: string; theirs: string[]; ours: readonly string[] }[]> {
  const all = await Promise.all(
    AREAS.map(async (area) => {
      const parsed = parsePhoneNumberFromString(numberIn(area));
      const theirs = (parsed && (await timezones(parsed))) ?? [];
      return { area, theirs, ours: zonesOfPhone(numberIn(area)) };
    }),
  );
  return all.filter(({ theirs }) => theirs.length > 0 && theirs.length < ANYWHERE);
}

describe("the zones of an area code", () => {
  it("are never fewer than those Google gives its prefixes: whoever may be asleep counts", async () => {
    const areas = await placed();
    expect(areas.length).toBeGreaterThan(400);
    const missing = areas.flatMap(({ area, theirs, ours }) => {
      const known = new Set(ours.map(clockOf));
      const left = theirs.filter((zone) => !known.has(clockOf(zone)));
      return left.length > 0 ? [`${area}: ${left}, ours ${ours}`] : [];
    });
    expect(missing).toEqual([]);
  });
  it("are more only where an area is known to lie in two, and then in one beside it", async () => {
    const hour = (zone: string) => Number(/GMT([+-]\d+)/.exec(clockOf(zone))?.[1] ?? 0);
    const far = (await placed()).flatMap(({ area, theirs, ours }) => {
      const away = ours.filter((zone) => theirs.every((t) => Math.abs(hour(zone) - hour(t)) > 1));
      return away.length > 0 ? [`${area}: ${away}, theirs ${theirs}`] : [];
    });
    expect(far).toEqual([]);
  });
  it("are none for a number that is not of the numbering plan, and for a code that is nobody's", () => {
    expect(zonesOfPhone("+442079460123" as E164)).toEqual([]);
    expect(zonesOfPhone(numberIn("211"))).toEqual([]);
  });
});
