import { createHmac } from "node:crypto";
import { sameText } from "../same-text.ts";

type Says = readonly (string | number)[];

/** What stands in a link and was signed by us for one purpose: nobody else can make one, nor use it for another. */
export class Signed {
  readonly #secret: string;

  constructor(secret: string) {
    this.#secret = secret;
  }

  /** The link's own part: what it says, signed for a purpose. */
  token(purpose: string, says: Says): string {
    const payload = Buffer.from(JSON.stringify(says)).toString("base64url");
    return `${payload}.${this.#sign(purpose, payload)}`;
  }

  /** What a token says; null when it was not made by us for this purpose. Never throws. */
  read(purpose: string, token: string): Says | null {
    const [payload = "", signature = ""] = token.split(".");
    if (!sameText(signature, this.#sign(purpose, payload))) return null;
    return JSON.parse(Buffer.from(payload, "base64url").toString()) as Says;
  }

  #sign(purpose: string, payload: string): string {
    return createHmac("sha256", this.#secret).update(`${purpose}.${payload}`).digest("base64url");
  }
}
