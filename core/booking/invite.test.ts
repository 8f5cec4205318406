import fc from "fast-check";
import ICAL from "ical.js";
import { describe, expect, it } from "vitest";
import { clockTime } from "../time/words.ts";
import { type Invite, inviteText } from "./invite.ts";

const invite: Invite = {
  method: "REQUEST",
  uid: "call_1@tarnholt.example",
  sequence: 0,
  at: Date.parse("2026-03-06T16:30:00Z"),
  minutes: 30,
  summary: "Call: Ana; about a barrel, maybe two",
  description: "Line one\nLine two \\ end",
  organizer: { name: "Mara Whitehorse", email: "mara@tarnholt.example" },
  attendee: { name: 'Ana "Anita" Ruiz', email: "ana@example.com" },
  now: Date.parse("2026-03-04T16:00:00Z"),
};
/** Read back by ical.js, which knows nothing of how it was written. */
function read(text: string) {
  const calendar = new ICAL.Component(ICAL.parse(text));
  const event = new ICAL.Event(calendar.getFirstSubcomponent("vevent")!);
  return { method: calendar.getFirstPropertyValue("method"), event };
}

describe("an invitation", () => {
  it("is read back as it was meant", () => {
    const { method, event } = read(inviteText(invite));
    expect(method).toBe("REQUEST");
    expect(event.uid).toBe(invite.uid);
    expect(event.sequence).toBe(0);
    expect(event.summary).toBe(invite.summary);
    expect(event.description).toBe(invite.description);
    expect(event.startDate.toJSDate().getTime()).toBe(invite.at);
    expect(event.duration.toSeconds()).toBe(1800);
    expect(event.organizer).toBe("mailto:mara@tarnholt.example");
  });
  it("is cancelled under the same id with a higher number", () => {
    const { method, event } = read(inviteText({ ...invite, method: "CANCEL", sequence: 2 }));
    expect(method).toBe("CANCEL");
    expect([event.uid, event.sequence]).toEqual([invite.uid, 2]);
    expect(event.component.getFirstPropertyValue("status")).toBe("CANCELLED");
  });
  it("is at the right hour on either side of a clock change", () => {
    // Nine in Denver on the Friday before and the Monday after clocks go forward.
    for (const at of ["2026-03-06T09:00:00-07:00", "2026-03-09T09:00:00-06:00"]) {
      const { event } = read(inviteText({ ...invite, at: Date.parse(at) }));
      expect(clockTime(event.startDate.toJSDate().getTime(), "America/Denver")).toBe("09:00");
    }
  });
  it("holds whatever is written into it, in lines of 75 octets at most", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", maxLength: 300 }), (written) => {
        // What a calendar cannot hold at all is left out of the question: control characters.
        const summary = written.replace(/\p{Cc}/gu, "");
        const text = inviteText({ ...invite, summary });
        for (const line of text.split("\r\n"))
          expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
        expect(read(text).event.summary ?? "").toBe(summary);
      }),
    );
  });
});
