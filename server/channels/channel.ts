import type { OutgoingMessage } from "../../core/message/outgoing.ts";
import type { OutboxRow } from "../db/schema.ts";

/** A message ready to leave, its link filled in. */
export interface Parcel
  extends Pick<
    OutboxRow,
    "id" | "key" | "channel" | "toAddress" | "fromAddress" | "subject" | "body" | "purpose"
  > {
  /** Where the link in the body leads, for channels that show it as a button. */
  readonly url: string | null;
  /** A mail's own id; the same message always carries the same, so a repeat after a crash can be told. */
  readonly messageId: string | null;
  readonly headers: NonNullable<OutgoingMessage["headers"]>;
  /** A mail's words as HTML, the twin of `body`; null for what is plain alone. */
  readonly html: string | null;
  /** Where one press ends these mails (RFC 8058); null for what a person wrote. */
  readonly unsubscribeUrl: string | null;
  readonly files: readonly {
    readonly name: string;
    readonly type: string;
    readonly content: Buffer;
    /** By what the words of the mail show it (RFC 2392); beside them when left out. */
    readonly cid?: string;
  }[];
}

/** The other side will never take this message, whatever is tried: the address is at fault, not the way. */
export class Refused extends Error {
  override name = "Refused";
}

/**
 * One way out of the house. `deliver` resolves when the other side has accepted the message and rejects
 * with a sentence when not, by {@link Refused} when it never will; delivering the same `key` twice must be harmless, since a crash may repeat it.
 */
export interface OutChannel {
  /** Why nothing goes by it, in words, when nobody has set it up: then what goes by it waits. */
  readonly unset?: string;
  deliver(parcel: Parcel): Promise<void>;
  close(): Promise<void>;
}
