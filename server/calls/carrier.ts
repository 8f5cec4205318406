import { z } from "zod";
import { toE164 } from "../../core/contact/phone.ts";
import { sourceOfLine } from "../../core/source/lines.ts";
import type { Attachment } from "../../core/vocabulary.ts";
import type { Desk } from "../desk.ts";
import type { Receipt } from "../intake/intake.ts";

/** What a carrier reports of a call on one of our lines, as it goes on. */
export const CallReport = z.object({
  call_id: z.string().min(1),
  state: z.enum(["ringing", "answered", "missed", "voicemail"]),
  from: z.string(),
  to: z.string(),
  seconds: z.number().min(0).default(0),
  /** Who of ours picked it up. */
  person_id: z.string().optional(),
  recording_url: z.string().optional(),
});
export type CallReport = z.infer<typeof CallReport>;

/** The most a recording may weigh (bytes), and how long it is waited for (ms). */
const MOST = 20 * 1_048_576;
const PATIENCE = 10_000;

export type Reported =
  | { readonly ok: true; readonly receipt: Receipt | null }
  | { readonly ok: false; readonly status: number; readonly said: string };

/** A call rings, was answered, missed or recorded. What has ended is taken in like every other inquiry. */
export async function reportCall(desk: Desk, report: CallReport): Promise<Reported> {
  const { country } = desk.setup.policies.company;
  const line = toE164(report.to, country);
  const source = line ? sourceOfLine(desk.setup.sources, ["call"], line) : undefined;
  if (!source) return { ok: false, status: 404, said: `${report.to} is no line of this desk.` };
  const from = toE164(report.from, country);
  if (report.state === "ringing") {
    const known = from ? desk.looker.match([from]) : null;
    desk.feed.publish({ n: 0, leadId: known?.leadId ?? null, kinds: ["ringing"] });
    return { ok: true, receipt: null };
  }
  const recording = report.recording_url ? await fetchRecording(desk, report.recording_url) : null;
  const fields = {
    call_id: report.call_id,
    phone: from ?? report.from,
    kb_result: report.state,
    kb_seconds: report.seconds,
    ...(report.person_id && { kb_person: report.person_id }),
    ...(recording && { kb_recording: JSON.stringify(recording) }),
  };
  const raw = Buffer.from(JSON.stringify(fields));
  const headers = { "idempotency-key": `${report.call_id}:${report.state}` };
  return {
    ok: true,
    receipt: await desk.intake.submit(source, { contentType: "application/json", headers, raw }),
  };
}

/**
 * The recording, kept here: the carrier's copy is gone some day. Fetched from the carrier's own places only, and cut off
 * where it weighs too much. Null when it can't be had; the call counts anyway.
 */
export async function fetchRecording(desk: Desk, url: string): Promise<Attachment | null> {
  if (!URL.canParse(url) || !desk.recordingsFrom().includes(new URL(url).origin)) {
    desk.log.warn("a recording lies where none are fetched from; name that place in KITEBELL_RECORDINGS");
    return null;
  }
  try {
    const response = await fetch(url, { signal: AbortSignal.timeout(PATIENCE), redirect: "error" });
    if (!response.ok || !response.body) return null;
    const chunks: Uint8Array[] = [];
    let weight = 0;
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
      weight += chunk.length;
      if (weight > MOST) return null;
      chunks.push(chunk);
    }
    const type = response.headers.get("content-type") ?? "audio/wav";
    return desk.files.keep(Buffer.concat(chunks), "voicemail.wav", type);
  } catch {
    return null;
  }
}
