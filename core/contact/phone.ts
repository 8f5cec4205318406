import { isSupportedCountry, parsePhoneNumberFromString } from "libphonenumber-js";

/** A telephone number in E.164 (`+13035550123`): the one form numbers are kept and compared in. */
export type E164 = string;

/** What is longer than this is no number, however it is written: E.164 has 15 digits. */
const LONGEST = 100;

/** Where numbers are dialled as most are that arrive: the two large countries of the North American plan. */
const NANP: ReadonlySet<string> = new Set(["US", "CA"]);

/**
 * The E.164 form of a number as somebody wrote it, or null when it cannot be one. `country` (ISO 3166-1 alpha-2) is
 * where it is dialled, when it names none itself; an unknown one leaves only numbers that do. Extensions are dropped.
 * Source: ITU-T E.164 through libphonenumber; numbers of the North American plan must also have area and
 * exchange codes of the form [2-9]XX. Only the plan's shape is asked for, not that a number is in service.
 */
export function toE164(written: string, country: string): E164 | null {
  if (written.length > LONGEST) return null;
  const usual = NANP.has(country) ? nanp(written) : null;
  if (usual) return usual;
  const home = isSupportedCountry(country) ? country : undefined;
  const parsed = parsePhoneNumberFromString(written.trim(), home);
  if (!parsed?.isPossible()) return null;
  if (parsed.countryCallingCode === "1" && !/^[2-9]\d\d[2-9]\d{6}$/.test(parsed.nationalNumber)) return null;
  return parsed.number;
}

/** The usual way of writing numbers here, read directly: most of what arrives, and a tenth of the library's cost. */
function nanp(written: string): E164 | null {
  const bare = written.trim();
  if (!/^\+?[\d\s().-]+$/.test(bare)) return null;
  const digits = bare.replace(/\D/g, "");
  const national = digits.length === 11 && digits[0] === "1" ? digits.slice(1) : digits;
  // With a plus the country must be said too.
  if (bare[0] === "+" && national === digits) return null;
  return /^[2-9]\d\d[2-9]\d{6}$/.test(national) ? `+1${national}` : null;
}

/** The area code of a number of the North American plan, else null. */
export function areaCode(e164: E164): string | null {
  return /^\+1(\d{3})\d{7}$/.exec(e164)?.[1] ?? null;
}
