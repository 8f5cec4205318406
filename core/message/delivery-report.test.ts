import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readDeliveryStatus, whyFailed } from "./delivery-report.ts";

/** The examples of RFC 3464, appendix E.1, E.3 and E.4, as they are printed there (from memory). */
const SIMPLE = `Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400
`;
const SEVERAL = `Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;arathib@vnet.ibm.com
Final-Recipient: rfc822;arathib@vnet.ibm.com
Action: failed
Status: 5.0.0 (permanent failure)
Diagnostic-Code: smtp;
 550 'arathib@vnet.IBM.COM' is not a
 registered gateway user
Remote-MTA: dns; vnet.ibm.com

Original-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Final-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Action: delayed
Status: 4.0.0 (hpnjld.njd.jp.com: host name lookup failure)

Original-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Final-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Action: failed
Status: 5.0.0
Diagnostic-Code: smtp; 550 user unknown
Remote-MTA: dns; sdcc13.ucsd.edu
`;

describe("a delivery report", () => {
  it("names its recipient, what was done and what was said", () => {
    expect(readDeliveryStatus(SIMPLE)).toEqual([
      {
        address: "louisl@larry.slip.umd.edu",
        action: "failed",
        status: "4.0.0",
        said: "426 connection timed out",
      },
    ]);
  });
  it("of several recipients tells of each, folded lines joined", () => {
    const read = readDeliveryStatus(SEVERAL.replaceAll("\n", "\r\n"));
    expect(read.map(({ action, status }) => [action, status])).toEqual([
      ["failed", "5.0.0"],
      ["delayed", "4.0.0"],
      ["failed", "5.0.0"],
    ]);
    expect(read[0]?.said).toBe("550 'arathib@vnet.IBM.COM' is not a registered gateway user");
  });
  it("that is none has no recipients, whatever it is", () => {
    expect(readDeliveryStatus("")).toEqual([]);
    expect(readDeliveryStatus("Action: failed\n")).toEqual([]);
    expect(readDeliveryStatus("Final-Recipient: rfc822; a@b.example\nAction: eaten\n")).toEqual([]);
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), (text) => {
        expect(Array.isArray(readDeliveryStatus(text))).toBe(true);
      }),
    );
  });
});

describe("why a mail failed", () => {
  it("is said by its status, whatever the server's own words are", () => {
    expect(whyFailed({ status: "5.1.1", said: "550 5.1.1 xyz" })).toBe("there is no such mailbox");
    expect(whyFailed({ status: "5.2.2", said: "" })).toBe("the mailbox is full");
  });
  it("is said in the server's words where the status says little, and never with nothing", () => {
    expect(whyFailed({ status: "5.0.0", said: "550 user unknown" })).toBe(
      "their mail server said “550 user unknown”",
    );
    expect(whyFailed({ status: "", said: "" })).toBe("their mail server gave no reason");
  });
});
