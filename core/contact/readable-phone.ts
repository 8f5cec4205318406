import type { E164 } from "./phone.ts";

/**
 * The number as people here read it: `(303) 555-0123`; foreign ones as they are dialled. Apart from
 * `phone.ts`, so that a browser that only shows numbers need not load the library that parses them.
 */
export function readablePhone(e164: E164): string {
  const [, area, exchange, line] = /^\+1(\d{3})(\d{3})(\d{4})$/.exec(e164) ?? [];
  return area ? `(${area}) ${exchange}-${line}` : e164;
}
