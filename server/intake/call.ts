import { z } from "zod";
import type { EventData } from "../../core/lead/events.ts";

/** What the carrier reports of a call that has ended, without our line. */
export type CallReport = Omit<EventData["called-in"], "line">;

const Recording = z.object({
  fileId: z.string(),
  name: z.string(),
  type: z.string(),
  size: z.number(),
});

const Fields = z.object({
  call_id: z.string().min(1),
  phone: z.string(),
  kb_result: z.enum(["answered", "missed", "voicemail"]),
  kb_seconds: z.coerce.number().min(0).catch(0),
  kb_person: z.string().optional(),
  kb_recording: z.string().optional(),
});

/** The call that named answers describe; null when they describe none. */
export function readCall(fields: Readonly<Record<string, string>>): CallReport | null {
  const read = Fields.safeParse(fields);
  if (!read.success) return null;
  const { call_id: callId, phone: from, kb_result: result, kb_seconds: seconds } = read.data;
  const { kb_person: personId = null, kb_recording: recording } = read.data;
  const file = recording ? Recording.safeParse(safeJson(recording)) : null;
  return { callId, from, result, seconds, personId, recording: file?.success ? file.data : null };
}

function safeJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
