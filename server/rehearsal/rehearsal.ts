import { randomUUID } from "node:crypto";
import nodemailer from "nodemailer";
import type Mail from "nodemailer/lib/mailer";
import type SMTPTransport from "nodemailer/lib/smtp-transport";
import { Webhook } from "standardwebhooks";
import { toE164 } from "../../core/contact/phone.ts";
import { sourceOfLine } from "../../core/source/lines.ts";
import type { AdPlatform } from "../../standins/ad-platform.ts";
import { bounceOf, hasNoMailbox, hasNoPhone } from "../../standins/bounce.ts";
import type { StandinBucket } from "../../standins/bucket.ts";
import { recordingUrl } from "../../standins/gateway.ts";
import type { Outside, Received } from "../../standins/outside.ts";
import type { Takes } from "../../standins/phones.ts";
import type { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";
import type { Standins } from "./standins.ts";
import type { Traffic, World } from "./traffic.ts";
import { Tutorials } from "./tutorial.ts";

/** The furthest the clock may be moved at once: every timer on the way runs. */
const FURTHEST = 400 * 86_400_000;

/** What is looked at of a bucket. */
type Bucket = Pick<StandinBucket, "url" | "objects">;

/** Where the world outside reaches this desk, and who plays it. */
export interface Surroundings {
  readonly standins: Pick<Standins, "outside" | "platform" | "gatewayUrl" | "phones"> & {
    readonly bucket: Bucket;
  };
  /** The desk's own address, for webhooks. */
  readonly origin: string;
  /** The port of the desk's mail receiver. */
  readonly mailPort: number;
}

export interface PlayedMail {
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly body: string;
  readonly headers?: Readonly<Record<string, string>> | undefined;
  readonly attachments?:
    | readonly { readonly name: string; readonly type: string; readonly content: string }[]
    | undefined;
}

export interface PlayedCall {
  readonly from: string;
  readonly to: string;
  readonly result: "answered" | "missed" | "voicemail";
  readonly seconds: number;
}

type Moved = { readonly now: number; readonly timersRun: number } | { readonly problem: string };

/** Playing the outside world, and moving time. */
export class Rehearsal {
  readonly #desk: Desk;
  readonly #clock: MovableClock;
  readonly #world: Surroundings;
  /** One move at a time: two at once would run timers out of order. */
  #moving: Promise<unknown> = Promise.resolve();

  /** Who learns the desk just now. */
  readonly tutorials: Tutorials;
  /** Live traffic, where somebody has made it up. */
  readonly traffic: Traffic | null;

  constructor(
    desk: Desk,
    clock: MovableClock,
    world: Surroundings,
    traffic: (world: World) => Traffic | null = () => null,
  ) {
    this.#desk = desk;
    this.#clock = clock;
    this.#world = world;
    this.tutorials = new Tutorials(desk);
    this.traffic = traffic({
      send: (key, fields) => this.#send(key, fields),
      text: async (from, body) => {
        await this.text(from, "", body);
      },
    });
  }

  /** Somebody inquires by a source, each as its way brings it: a call is reported, a mail sent, all else posted at the door. */
  async #send(key: string, fields: Readonly<Record<string, unknown>>): Promise<void> {
    const source = this.#desk.setup.sources.find((s) => s.key === key);
    if (source?.state !== "live") return;
    const text = (name: string) => String(fields[name] ?? "");
    if (source.channel === "call") {
      const result = text("kb_result") as PlayedCall["result"];
      const call = {
        from: text("phone"),
        to: source.line ?? "",
        result,
        seconds: Number(fields.kb_seconds ?? 0),
      };
      await this.call(call, text("kb_person"));
    } else if (source.channel === "email") {
      const { email } = this.#desk.setup.policies.company;
      const from = `"${text("name").replaceAll('"', "")}" <${text("email")}>`;
      await this.email({
        from,
        to: email,
        subject: `Question about ${text("product")}`,
        body: text("message"),
      });
    } else if (source.adForm) {
      const answers = fields.answers as readonly { readonly field: string; readonly value: string }[];
      await this.adForm(key, Object.fromEntries(answers.map((a) => [a.field, a.value])));
    } else
      await fetch(`${this.#world.origin}/api/v1/intake/${key}`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(fields),
      });
  }

  get outside(): Outside {
    return this.#world.standins.outside;
  }

  /** Where another system of the rehearsal is told by webhook. */
  get hookUrl(): string {
    return `${this.#world.standins.gatewayUrl}/hooks`;
  }

  /** A bucket backups can be copied to. */
  get bucket(): Bucket {
    return this.#world.standins.bucket;
  }

  get platform(): AdPlatform {
    return this.#world.standins.platform;
  }

  /** Have the stand-in platform deliver the forms of the sources that are connected from the start. */
  connectForms(): void {
    for (const { key, adForm, signingSecret } of this.#desk.setup.sources)
      if (adForm && signingSecret)
        this.platform.listen(adForm.formId, `${this.#world.origin}/api/v1/intake/${key}`, signingSecret);
  }

  now(): number {
    return this.#clock.now();
  }

  /** Take a part of the world outside down, or bring it back. */
  setDown(channel: "email" | "text" | "chat", down: boolean): readonly string[] {
    if (down) this.outside.down.add(channel);
    else this.outside.down.delete(channel);
    return [...this.outside.down];
  }

  /** Go on with the time this desk was left at, which runs on while it is switched off. */
  resume(): void {
    const ahead = this.#desk.kept.counter("rehearsal-ahead-ms");
    if (ahead === null) this.#keep();
    else this.#clock.runFrom(Date.now() + ahead);
  }

  #keep(): void {
    this.#desk.kept.setCounter("rehearsal-ahead-ms", this.#clock.now() - Date.now());
  }

  /**
   * Move the clock to `at`, running every timer at its own due time and delivering what it sends. Backwards
   * only while nothing has happened yet. Gives a sentence when it cannot.
   */
  moveTo(at: number): Promise<Moved> {
    return this.#queue(() => at);
  }

  /** Move the clock on by so many ms from where it is when its turn has come. */
  moveBy(ms: number): Promise<Moved> {
    return this.#queue((now) => now + ms);
  }

  #queue(to: (now: number) => number): Promise<Moved> {
    // One look at the clock: a move by nothing would lie in the past of the next millisecond.
    const move = this.#moving.then(() => {
      const now = this.#clock.now();
      return this.#move(to(now), now);
    });
    this.#moving = move.catch(() => {});
    return move;
  }

  async #move(at: number, now: number): Promise<Moved> {
    const { timers, outbox, hooks, reader, feed, recurring, morning, sweep } = this.#desk;
    const drained = async () => {
      await outbox.drained();
      await hooks.drained();
    };
    if (at < now && reader.lastEvent() > 0)
      return { problem: "Time only moves forward once something has happened on this desk." };
    if (at > now + FURTHEST) return { problem: "Move the clock by 400 days at most at a time." };
    let timersRun = 0;
    const next = () => Math.min(timers.nextDue, ...recurring.map((one) => one.nextDue));
    await sweep.settled();
    await drained();
    try {
      // Time stands still at each due moment until its work is done, messages included.
      for (let due = next(); due <= at; due = next()) {
        this.#clock.hold(Math.max(this.#clock.now(), due));
        if (timers.nextDue <= this.#clock.now()) timersRun += timers.runDue();
        for (const one of recurring) if (one.nextDue <= this.#clock.now()) await one.run();
        await drained();
      }
    } finally {
      this.#clock.runFrom(Math.max(at, reader.lastEvent() > 0 ? now : at));
      this.#keep();
      // The clock may have gone back.
      morning.plan();
    }
    await drained();
    feed.publish({ n: 0, leadId: null, kinds: ["clock"] });
    return { now: this.#clock.now(), timersRun };
  }

  /** The lead texts one of our lines: a known number is a reply, an unknown one a new inquiry. */
  async text(
    from: string,
    to: string,
    body: string,
  ): Promise<{ leadId: string | null } | { problem: string }> {
    const { setup, intake } = this.#desk;
    const { country } = setup.policies.company;
    const number = toE164(from, country);
    if (!number) return { problem: `“${from}” is not a phone number.` };
    const source =
      sourceOfLine(setup.sources, ["text"], toE164(to, country) ?? "") ??
      setup.sources.find((s) => s.channel === "text");
    if (!source) return { problem: "No source takes text messages." };
    const raw = Buffer.from(JSON.stringify({ phone: number, message: body, submission_id: randomUUID() }));
    return intake.submit(source, { contentType: "application/json", headers: {}, raw });
  }

  /** Somebody fills in an ad form: the platform signs the delivery and posts it to the webhook. */
  async adForm(
    sourceKey: string,
    answers: Record<string, string>,
    hold = false,
  ): Promise<Response | { problem: string }> {
    const source = this.#desk.setup.sources.find((s) => s.key === sourceKey);
    if (!source?.adForm) return { problem: `There is no ad form “${sourceKey}”.` };
    const response = await this.platform.fill(source.adForm.formId, answers, { hold });
    return (
      response ?? {
        problem: "The desk does not answer, or nobody listens to this form. The platform tries again.",
      }
    );
  }

  /** Somebody writes a mail: it goes over real SMTP to the desk's receiver. Gives a sentence when it is refused. */
  async email(mail: PlayedMail): Promise<{ accepted: true; messageId: string } | { problem: string }> {
    try {
      const { messageId } = await this.#mail({
        from: mail.from,
        to: mail.to,
        subject: mail.subject,
        text: mail.body,
        ...(mail.headers && { headers: { ...mail.headers } }),
        ...(mail.attachments && {
          attachments: mail.attachments.map((a) => ({
            filename: a.name,
            contentType: a.type,
            content: a.content,
          })),
        }),
      });
      return { accepted: true, messageId };
    } catch (error) {
      return { problem: error instanceof Error ? error.message : String(error) };
    }
  }

  /** Bring a mail to the desk's receiver, as a mail server would. Rejects with what the receiver says against it. */
  async #mail(mail: Mail.Options): Promise<SMTPTransport.SentMessageInfo> {
    const transport = nodemailer.createTransport({
      host: "127.0.0.1",
      port: this.#world.mailPort,
      ignoreTLS: true,
    });
    try {
      return await transport.sendMail(mail);
    } finally {
      transport.close();
    }
  }

  /** Somebody calls one of our lines: the carrier reports it, signed, as it rings and when it has ended. */
  async call(call: PlayedCall, personId: string): Promise<{ leadId: string | null } | { problem: string }> {
    const { standins } = this.#world;
    const callId = randomUUID();
    const about = { call_id: callId, from: call.from, to: call.to };
    const ended = {
      ...about,
      state: call.result,
      seconds: call.seconds,
      ...(call.result === "answered" && { person_id: personId }),
      ...(call.result === "voicemail" && {
        recording_url: recordingUrl(standins.gatewayUrl, callId, call.seconds),
      }),
    };
    let response: Response | null = null;
    for (const report of [{ ...about, state: "ringing" }, ended]) {
      response = await this.#say("calls", `${callId}:${report.state}`, report);
      if (!response.ok) return { problem: ((await response.json()) as { detail: string }).detail };
    }
    return (await response!.json()) as { leadId: string | null };
  }

  /** The carrier tells the desk something of a call or a text, signed. */
  async #say(what: "calls" | "messages", id: string, report: object): Promise<Response> {
    const body = JSON.stringify(report);
    const at = new Date();
    return fetch(`${this.#world.origin}/api/v1/carrier/${what}`, {
      method: "POST",
      body,
      headers: {
        "content-type": "application/json",
        "webhook-id": id,
        "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
        "webhook-signature": new Webhook(this.#desk.carrierSecret).sign(id, at, body),
      },
    });
  }

  /** Have carrier and mail servers report how it goes with what the desk has given them. */
  connectCarriers(): void {
    const { phones, outside } = this.#world.standins;
    phones.reportTo(async (report) => {
      await this.#say("calls", randomUUID(), report);
    });
    outside.received = (message, key) => {
      // Whoever has gone meanwhile needs no report.
      this.#reportOn(message, key).catch((err: unknown) =>
        this.#desk.log.warn({ err }, "a delivery could not be reported"),
      );
    };
  }

  async #reportOn(message: Received, key: string): Promise<void> {
    if (message.channel === "text") {
      const failed = hasNoPhone(message.to);
      const state = failed
        ? { state: "failed", because: "No phone has this number." }
        : { state: "delivered" };
      await this.#say("messages", randomUUID(), { message_key: key, ...state });
    } else if (message.channel === "email" && hasNoMailbox(message.to)) {
      const envelope = { from: "", to: message.from };
      await this.#mail({ envelope, raw: bounceOf(message) });
    }
  }

  /** Calls the desk has on the line. */
  calls() {
    return this.#world.standins.phones.list();
  }

  /** The lead's phone does something, or they hang up. */
  phone(callId: string, does: Takes | "hang-up"): Promise<boolean> {
    const { phones, gatewayUrl } = this.#world.standins;
    return does === "hang-up"
      ? phones.hangUp(callId, (seconds) => recordingUrl(gatewayUrl, callId, seconds))
      : phones.take(callId, does);
  }
}
