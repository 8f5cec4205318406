/** What a mail server says became of one recipient's copy. */
export interface Recipient {
  readonly address: string;
  readonly action: "failed" | "delayed" | "delivered" | "relayed" | "expanded";
  /** The enhanced status, such as `5.1.1`; empty when none was given. */
  readonly status: string;
  /** What the other server said, without its protocol's name; empty when it said nothing. */
  readonly said: string;
}

/** Fields of one group, by lower-case name; folded lines are joined. Linear in the text. */
function fieldsOf(group: readonly string[]): ReadonlyMap<string, string> {
  const fields = new Map<string, string>();
  let last = "";
  for (const line of group) {
    const goesOn = line.startsWith(" ") || line.startsWith("\t");
    if (goesOn && last) fields.set(last, `${fields.get(last)} ${line.trim()}`);
    const colon = line.indexOf(":");
    if (goesOn || colon < 1) continue;
    last = line.slice(0, colon).trim().toLowerCase();
    if (fields.has(last)) last = "";
    else fields.set(last, line.slice(colon + 1).trim());
  }
  return fields;
}

/** A value behind its type: `rfc822; louisa@example.com`. */
const behindType = (value: string | undefined) => (value ?? "").slice((value ?? "").indexOf(";") + 1).trim();

const ACTIONS: ReadonlySet<string> = new Set(["failed", "delayed", "delivered", "relayed", "expanded"]);

/** So many recipients of a report are read: ours have one each. */
const MOST = 50;

/**
 * The recipients of a delivery report's `message/delivery-status` part. What is no such part has none; never throws.
 * Source: RFC 3464, 2.1 to 2.3 (groups of fields parted by empty lines, the first about the message as a whole).
 */
export function readDeliveryStatus(text: string): readonly Recipient[] {
  const groups: string[][] = [[]];
  for (const line of text.split(/\r?\n/)) {
    if (line.trim() !== "") groups.at(-1)!.push(line);
    else if (groups.at(-1)!.length > 0) groups.push([]);
    if (groups.length > MOST) break;
  }
  return groups.flatMap((group) => {
    const fields = fieldsOf(group);
    const action = (fields.get("action") ?? "").toLowerCase();
    const address = behindType(fields.get("original-recipient") ?? fields.get("final-recipient"));
    if (!ACTIONS.has(action) || !address) return [];
    return [
      {
        address: address.replace(/^<|>$/g, ""),
        action: action as Recipient["action"],
        status: /^[245]\.\d{1,3}\.\d{1,3}/.exec(fields.get("status") ?? "")?.[0] ?? "",
        said: behindType(fields.get("diagnostic-code")).slice(0, 300),
      },
    ];
  });
}

/** Plain words for an enhanced status. Source: RFC 3463, 3.2 to 3.8; the words are ours. */
const MEANS: Readonly<Record<string, string>> = {
  "1.1": "there is no such mailbox",
  "1.2": "there is no such mail domain",
  "1.3": "the address is not written right",
  "1.6": "the mailbox has moved",
  "1.10": "the domain takes no mail",
  "2.1": "the mailbox takes nothing",
  "2.2": "the mailbox is full",
  "2.3": "the mail is too large for the mailbox",
  "3.4": "the mail is too large",
  "4.1": "their mail server gives no answer",
  "4.4": "their mail server can’t be found",
  "4.7": "their mail server did not take it in time",
  "7.1": "their mail server refuses it",
};

/** Why a mail did not arrive, in words without a full stop: what the status means, else what the server said. */
export function whyFailed({ status, said }: Pick<Recipient, "status" | "said">): string {
  const means = MEANS[status.slice(2)];
  if (means) return means;
  return said ? `their mail server said “${said}”` : "their mail server gave no reason";
}
