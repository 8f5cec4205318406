import { useEffect, useRef, useState } from "react";
import type { MessageDraft } from "../wire/answering-schemas.ts";
import { call } from "./api.ts";

/** How long somebody must pause before what they typed is kept by the desk (ms). */
const PAUSE = 600;

const here = (leadId: string, channel: string) => `kb_draft:${leadId}:${channel}`;

function blank(channel: MessageDraft["channel"]): MessageDraft {
  return { channel, subject: "", body: "", templateId: null };
}

function kept(leadId: string, channel: MessageDraft["channel"]): MessageDraft | null {
  const text = localStorage.getItem(here(leadId, channel));
  return text ? (JSON.parse(text) as MessageDraft) : null;
}

/**
 * What somebody has begun to write to a lead. Each stroke is kept in this browser, and by the desk as soon as they
 * pause, so that it is there on another machine too.
 */
export function useDraft(leadId: string, channel: MessageDraft["channel"]) {
  const [draft, setDraft] = useState<MessageDraft>(() => kept(leadId, channel) ?? blank(channel));
  const touched = useRef(kept(leadId, channel) !== null);
  useEffect(() => {
    if (touched.current) return;
    let gone = false;
    void call("GET /leads/[id]/draft", { id: leadId })
      .then((known) => {
        if (!gone && !touched.current && known?.channel === channel) setDraft(known);
      })
      .catch(() => {
        // Nothing kept can be had now; what is typed here is kept here.
      });
    return () => {
      gone = true;
    };
  }, [leadId, channel]);
  useEffect(() => {
    if (!touched.current) return;
    if (draft.body || draft.subject) localStorage.setItem(here(leadId, channel), JSON.stringify(draft));
    else localStorage.removeItem(here(leadId, channel));
    const keep = setTimeout(
      () => void call("POST /leads/[id]/draft", { id: leadId, body: draft }).catch(() => {}),
      PAUSE,
    );
    return () => clearTimeout(keep);
  }, [leadId, channel, draft]);
  return {
    draft,
    change: (part: Partial<MessageDraft>) => {
      touched.current = true;
      setDraft((before) => ({ ...before, ...part }));
    },
    /** It has been sent: nothing is left to keep. */
    forget: () => {
      touched.current = false;
      localStorage.removeItem(here(leadId, channel));
    },
  };
}
