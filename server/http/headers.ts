import type { ServerResponse } from "node:http";

/**
 * What every answer says to browsers: nothing is guessed from its bytes, nothing shows it in a frame, no address of ours
 * is told to other sites. Pages say instead which scripts and styles are theirs (`astro.config.mjs`), and the hosted form
 * may be framed where its source says so (`web/middleware.ts`).
 */
export function guardAnswer(response: ServerResponse, { https }: { readonly https: boolean }): void {
  response.setHeader("x-content-type-options", "nosniff");
  response.setHeader("referrer-policy", "same-origin");
  response.setHeader("x-frame-options", "DENY");
  response.setHeader("content-security-policy", "default-src 'none'; frame-ancestors 'none'");
  response.setHeader("cross-origin-opener-policy", "same-origin");
  response.setHeader("permissions-policy", "camera=(), geolocation=(), microphone=(), payment=(), usb=()");
  if (https) response.setHeader("strict-transport-security", "max-age=31536000");
}
