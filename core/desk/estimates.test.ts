import { beforeEach, describe, expect, it } from "vitest";
import { worksheets } from "../../demo/qualifying.ts";
import { Bench, companyWith, DAY, wall } from "../../tests/support/memory.ts";
import type { Deal } from "../book/records.ts";
import type { Estimate } from "../lead/lead.ts";
import {
  answerEstimate,
  drawEstimate,
  type EstimateOrder,
  knownInputs,
  makeEstimate,
  sendEstimate,
} from "./estimates.ts";
import { take } from "./hand-off.ts";
import { handOver } from "./hand-over.ts";
import type { Decided } from "./plan.ts";
import { answerQuestions, close } from "./stage.ts";

const FILE = { fileId: "f1", name: "estimate.pdf", type: "application/pdf", size: 9 };
const ORDER: EstimateOrder = { worksheet: "ws_sauna", inputs: { miles: 50 } };

let at: Bench;
let id: string;

beforeEach(() => {
  at = new Bench(companyWith({ worksheets }));
  id = at.arrive({ name: "Rosa Lindqvist", email: "rosa@mail.example", product: "cabin" });
  at.act(id, (w) => take(w, "p_mara"));
});

const code = (decided: Decided | null) => (!decided || decided.ok ? null : decided.problem.code);

function make(order: EstimateOrder = ORDER): Estimate {
  const drawn = drawEstimate(at.desk.look(id), "p_mara", order);
  if (!drawn.ok) throw new Error(drawn.problem.detail);
  at.act(id, (w) => makeEstimate(w, "p_mara", order, drawn.estimate, FILE)!);
  return at.lead(id).estimates.at(-1)!;
}

const send = (estimate: Estimate, body = "Here it is") =>
  at.desk.commit(sendEstimate(at.desk.look(id), "p_mara", estimate.id, { body }));
const answer = (estimate: Estimate, by: string | null, said: "accepted" | "declined", name = "Rosa") =>
  at.desk.commit(answerEstimate(at.desk.look(id), by, estimate.id, { answer: said, name }));

describe("an estimate", () => {
  it("takes from the lead what is known, what is typed before it, and what is usual after", () => {
    expect(knownInputs(at.desk.look(id), worksheets[0]!)).toEqual({ price: "14500" });
    const estimate = make({ ...ORDER, inputs: { price: "12,000", miles: 50 } });
    expect(Object.fromEntries(estimate.inputs.map((i) => [i.key, i.value]))).toEqual({
      price: "12000",
      pieces: "1",
      miles: "50",
      discount: "0",
      extras: "0",
    });
    // 12,000 + 250, and 4.81 % of it 589.225, half a cent up.
    expect([estimate.net, estimate.tax, estimate.total]).toEqual([1_225_000, 58_923, 1_283_923]);
  });

  it("has a number of its own, and versions share it", () => {
    const first = make();
    const second = make();
    const again = make({ ...ORDER, replaces: first.id });
    expect([first, second, again].map((e) => [e.number, e.version])).toEqual([
      ["1001", 1],
      ["1002", 1],
      ["1001", 2],
    ]);
    expect(at.lead(id).estimates.map((e) => e.state)).toEqual(["replaced", "draft", "draft"]);
  });

  it("whose number went to another meanwhile is not kept: its document must be printed again", () => {
    const drawn = drawEstimate(at.desk.look(id), "p_mara", ORDER);
    make();
    if (!drawn.ok) throw new Error(drawn.problem.detail);
    expect(makeEstimate(at.desk.look(id), "p_mara", ORDER, drawn.estimate, FILE)).toBeNull();
    expect(at.lead(id).estimates).toHaveLength(1);
  });

  it("holds to the end of the last day", () => expect(wall(make().validUntil)).toBe("Fri 23:59:59"));

  it.each([
    [{ worksheet: "nowhere", inputs: {} }, "worksheet"],
    [{ worksheet: "ws_sauna", inputs: { pieces: "two" } }, "inputs.pieces"],
    [{ worksheet: "ws_sauna", inputs: { pieces: "" } }, "inputs.pieces"],
  ])("%j is refused, naming the field", (order, path) => {
    const drawn = drawEstimate(at.desk.look(id), "p_mara", order);
    expect(drawn.ok ? null : drawn.problem.errors?.[0]?.path).toBe(path);
  });

  it("of none before is refused", () => {
    const drawn = drawEstimate(at.desk.look(id), "p_mara", { ...ORDER, replaces: "est_none" });
    expect(drawn.ok ? null : drawn.problem.code).toBe("no-such-estimate");
  });

  it("of a closed lead is refused, and of one handed over made", () => {
    at.act(id, (w) => close(w, "p_mara", "No fit"));
    const drawn = drawEstimate(at.desk.look(id), "p_mara", ORDER);
    if (!drawn.ok) throw new Error(drawn.problem.detail);
    expect(code(makeEstimate(at.desk.look(id), "p_mara", ORDER, drawn.estimate, FILE))).toBe(
      "the-lead-is-closed",
    );
  });
});

describe("sending an estimate", () => {
  it("is a mail with the document, a try, and a call on the next open day", () => {
    const estimate = make();
    expect(send(estimate).ok).toBe(true);
    const mail = at.desk.messages.at(-1)!;
    expect(mail).toMatchObject({
      channel: "email",
      to: "rosa@mail.example",
      subject: "Estimate 1001 from Tarnholt Bathworks",
      attachments: [FILE],
    });
    const lead = at.lead(id);
    expect(lead.estimates[0]).toMatchObject({ state: "sent", sentAt: at.desk.now });
    expect(lead.tries).toBe(1);
    expect(lead.nextStep).toMatchObject({
      kind: "call",
      note: "Follow up on the estimate",
      personId: "p_mara",
    });
    expect(wall(lead.nextStep!.dueAt)).toBe("Thu 09:00:00");
  });

  it("tells other systems", () => {
    const sent = send(make());
    expect(sent.ok && sent.plan.told.map((t) => t.event)).toEqual(["estimate.sent"]);
  });

  it("again is let through, and once it was replaced, answered or has run out it is not", () => {
    const first = make();
    expect(code(send(first))).toBeNull();
    expect(code(send(first))).toBeNull();
    const second = make({ ...ORDER, replaces: first.id });
    expect(code(send(first))).toBe("not-to-be-sent");
    send(second);
    answer(second, null, "declined");
    expect(code(send(second))).toBe("not-to-be-sent");
    const third = make();
    at.desk.advance(40 * DAY);
    expect(code(send(third))).toBe("no-longer-valid");
  });

  it("without a mail address says so", () => {
    const other = at.arrive({ name: "Otis", email: "" });
    const drawn = drawEstimate(at.desk.look(other), "p_mara", ORDER);
    if (!drawn.ok) throw new Error(drawn.problem.detail);
    at.act(other, (w) => makeEstimate(w, "p_mara", ORDER, drawn.estimate, FILE)!);
    const sent = sendEstimate(at.desk.look(other), "p_mara", at.lead(other).estimates[0]!.id, { body: "x" });
    expect(code(sent)).toBe("no-way-to-send-it");
  });

  it("of none is refused", () =>
    expect(code(sendEstimate(at.desk.look(id), "p_mara", "est_none", { body: "x" }))).toBe(
      "no-such-estimate",
    ));
});

describe("what they answer", () => {
  it("on their page is a signal: the reply waits, and whoever has the lead hears of it", () => {
    const estimate = make();
    send(estimate);
    expect(answer(estimate, null, "accepted", "Rosa L.").ok).toBe(true);
    const lead = at.lead(id);
    expect(lead.estimates[0]).toMatchObject({ state: "accepted", answered: { name: "Rosa L." } });
    expect(lead.replyWaiting).toBe(at.desk.now);
    expect(at.desk.alerts.at(-1)).toMatchObject({ personId: "p_mara" });
    expect(at.desk.alerts.at(-1)?.body).toContain("Rosa Lindqvist has accepted estimate 1001");
  });

  it("told to one of ours is written down without waiting for anybody", () => {
    const estimate = make();
    expect(answer(estimate, "p_mara", "declined").ok).toBe(true);
    expect(at.lead(id)).toMatchObject({ replyWaiting: null, estimates: [{ state: "declined" }] });
  });

  it("counts once: the first answer stays", () => {
    const estimate = make();
    send(estimate);
    answer(estimate, null, "accepted");
    expect(code(answer(estimate, null, "declined"))).toBe("answered-already");
    expect(at.lead(id).estimates[0]?.state).toBe("accepted");
  });

  it("to what was never sent, was replaced, or has run out does not count", () => {
    const first = make();
    expect(code(answer(first, null, "accepted"))).toBe("not-sent");
    const second = make({ ...ORDER, replaces: first.id });
    expect(code(answer(first, null, "accepted"))).toBe("replaced");
    send(second);
    at.desk.advance(40 * DAY);
    expect(code(answer(second, null, "accepted"))).toBe("no-longer-valid");
    expect(code(answer(second, null, "declined"))).toBeNull();
  });

  it("needs a name, and is bounded", () => {
    const estimate = make();
    send(estimate);
    expect(code(answer(estimate, null, "accepted", " "))).toBe("name-missing");
    answer(estimate, null, "accepted", "x".repeat(5_000));
    expect(at.lead(id).estimates[0]?.answered?.name).toHaveLength(200);
  });

  it("opens a closed lead again", () => {
    const estimate = make();
    send(estimate);
    at.act(id, (w) => close(w, "p_mara", "Not interested now"));
    answer(estimate, null, "accepted");
    expect(at.lead(id).closed).toBeNull();
  });
});

describe("a deal of the lead", () => {
  const deal = () => at.desk.book.record(at.lead(id).handedOver!.dealId!) as Deal;

  it("follows the estimate: priced when it is sent, deciding when it is accepted, and never back", () => {
    at.act(id, (w) => answerQuestions(w, "p_mara", { company: "Cedar Inn" }));
    at.act(id, (w) => handOver(w, "p_mara", { company: {}, contact: {}, deal: {} }));
    expect(deal().stage).toBe("Looking at it");
    const estimate = make();
    send(estimate);
    expect(deal()).toMatchObject({ stage: "Priced", nextStep: { note: "Follow up on the estimate" } });
    answer(estimate, null, "accepted");
    expect(deal().stage).toBe("Deciding");
    send(make());
    expect(deal().stage).toBe("Deciding");
    // The lead stays handed over: the deal is where it is worked.
    expect(at.lead(id).closed?.reason).toBe("Handed over");
  });
});
