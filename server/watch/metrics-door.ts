import type { IncomingMessage } from "node:http";
import { sameText } from "../same-text.ts";

/** Whether a request reads what whoever runs the machine watches. */
export const isMetrics = ({ method, url }: Pick<IncomingMessage, "method" | "url">): boolean =>
  (method === "GET" || method === "HEAD") && url?.split("?", 1)[0] === "/metrics";

const isThisMachine = (address: string) => address === "::1" || /^(::ffff:)?127\./.test(address);

/** With a token whoever has it may; without one only this machine itself, and nobody a proxy passes on. */
export function mayReadMetrics({ headers }: IncomingMessage, token: string | null, address: string): boolean {
  if (token === null)
    return (
      isThisMachine(address) && headers["x-forwarded-for"] === undefined && headers.forwarded === undefined
    );
  return sameText(headers.authorization ?? "", `Bearer ${token}`);
}
