import type { Problem } from "../core/refusal.ts";

/** The members of an RFC 9457 problem document. */
export function problemBody(
  status: number,
  title: string,
  detail: string,
  errors?: Problem["errors"],
): object {
  return { type: "about:blank", title, status, detail, ...(errors && { errors }) };
}
