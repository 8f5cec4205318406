import type { Problem } from "../core/refusal.ts";

/** The members of an RFC 9457 problem document; `code` is an extension of ours, for programs to decide by. */
export function problemBody(
  code: string,
  status: number,
  title: string,
  detail: string,
  errors?: Problem["errors"],
): object {
  return { type: "about:blank", code, title, status, detail, ...(errors && { errors }) };
}
