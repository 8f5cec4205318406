import Holidays from "date-holidays";

/** A public holiday of a place: its local date (ISO) and its name in English. */
export interface Holiday {
  readonly date: string;
  readonly name: string;
}

/** Countries whose holidays are known, by code. Source: the date-holidays package. */
export function countries(): readonly { readonly key: string; readonly name: string }[] {
  return Object.entries(new Holidays().getCountries("en"))
    .map(([key, name]) => ({ key, name }))
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** The regions of a country that keep holidays of their own. */
export function regionsOf(country: string): readonly { readonly key: string; readonly name: string }[] {
  const states = (new Holidays().getStates(country, "en") ?? {}) as Record<string, string>;
  return Object.entries(states)
    .map(([key, name]) => ({ key, name }))
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** The public holidays of a country, or of one of its regions, in a year; one a date. Empty for an unknown place. */
export function holidaysIn(country: string, region: string | null, year: number): readonly Holiday[] {
  const calendar = region ? new Holidays(country, region) : new Holidays(country);
  const byDate = new Map<string, string>();
  for (const { date, name, type } of calendar.getHolidays(year, "en") ?? []) {
    const day = date.slice(0, 10);
    if (type === "public" && !byDate.has(day)) byDate.set(day, name);
  }
  return [...byDate].map(([date, name]) => ({ date, name })).sort((a, b) => a.date.localeCompare(b.date));
}
