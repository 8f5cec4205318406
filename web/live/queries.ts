import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSay } from "../ui/Toasts.tsx";
import type { Trouble } from "../wire/answering-schemas.ts";
import type { Group, Lead, Me, Outcome, Outside, Person, Queue, Sheet } from "../wire/schemas.ts";
import { call } from "./api.ts";
import { heardTime } from "./clock.ts";

interface Page<T> {
  readonly items: T[];
  readonly next: string | null;
}

export const useMe = () =>
  useQuery({ queryKey: ["me"], queryFn: () => call<Me>("/me"), staleTime: Number.POSITIVE_INFINITY });
export const usePeople = () =>
  useQuery({
    queryKey: ["people"],
    queryFn: () => call<Page<Person>>("/people").then((p) => p.items),
    placeholderData: keepPreviousData,
  });
export const useGroups = () =>
  useQuery({
    queryKey: ["groups"],
    queryFn: () => call<Page<Group>>("/groups").then((p) => p.items),
    staleTime: 60_000,
  });
/** What each outcome would set as the next step, for this lead, if logged now. */
export const useOutcomes = (leadId: string) =>
  useQuery({
    queryKey: ["outcomes", leadId],
    queryFn: () => call<Page<Outcome>>(`/outcomes?lead=${leadId}`).then((p) => p.items),
    staleTime: 0,
  });

/** The queue; with `later` also the leads that are not due today. */
export const useQueue = (later = false) =>
  useQuery({
    queryKey: ["queue", later],
    queryFn: async () => {
      const queue = await call<Queue>(`/queue?limit=60${later ? "&later" : ""}`);
      heardTime(Date.parse(queue.now));
      return queue;
    },
    placeholderData: keepPreviousData,
  });

export const useSheet = (id: string | null) =>
  useQuery({
    queryKey: ["sheet", id],
    queryFn: () => call<Sheet>(`/leads/${id}/sheet`),
    enabled: id !== null,
    retry: false,
  });

/** What is wrong with the whole desk now. Some of it comes with time alone, so it is asked for again and again. */
export const useTroubles = () =>
  useQuery({
    queryKey: ["troubles"],
    queryFn: () => call<Page<Trouble>>("/troubles").then((p) => p.items),
    staleTime: 0,
    refetchInterval: 30_000,
  });

/** Let the first replies of a source go that were held, or drop them. */
export function useReleaseReplies(sourceId: string) {
  const client = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: (send: boolean) => call<{ leads: number }>("/held-replies", { sourceId, send }),
    onSuccess: ({ leads }, send) => {
      say.done(`${leads} first ${leads === 1 ? "reply" : "replies"} ${send ? "sent" : "dropped"}.`);
      return client.invalidateQueries({ queryKey: ["troubles"] });
    },
    onError: (error) => say.wrong(error.message),
  });
}

export const useFound = (q: string) =>
  useQuery({
    queryKey: ["found", q],
    queryFn: () => call<Page<Lead>>(`/leads?limit=8&q=${encodeURIComponent(q)}`).then((p) => p.items),
    enabled: q.trim().length > 1,
    placeholderData: keepPreviousData,
  });

export const useOutside = (channel: string) =>
  useQuery({
    queryKey: ["outside", channel],
    queryFn: () =>
      call<Page<Outside>>(`/rehearsal/outside?channel=${channel}&limit=40`).then((p) => p.items.reverse()),
  });

interface Act {
  readonly leadId: string;
  readonly path: string;
  readonly body: object;
  /** What to say when it is done. */
  readonly said: string | ((lead: Lead) => string);
  readonly undoable?: boolean;
  /** How long it can be taken back (ms), when not as long as usual. */
  readonly undoFor?: number;
}

/** Take back an act on a lead, and say so; what stands in the way is said too. */
export function useUndo(): (leadId: string, actId: string) => Promise<void> {
  const say = useSay();
  return async (leadId, actId) => {
    try {
      await call(`/leads/${leadId}/undo`, { actId });
      say.done("Taken back.");
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
}

/** Put a message that was given up back in line. */
export function useResend(leadId: string): (messageId: string) => Promise<void> {
  const client = useQueryClient();
  const say = useSay();
  return async (messageId) => {
    try {
      await call(`/messages/${messageId}/resend`, {});
      say.done("It is tried again.");
      void client.invalidateQueries({ queryKey: ["sheet", leadId] });
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
}

/** Do something to a lead, say so, and offer to take it back. */
export function useAct() {
  const client = useQueryClient();
  const say = useSay();
  const undo = useUndo();
  return useMutation({
    mutationFn: ({ leadId, path, body }: Act) =>
      call<Lead & { actId: string }>(`/leads/${leadId}/${path}`, body),
    onSuccess: (lead, { leadId, said, undoable = true, undoFor }) => {
      say.done(
        typeof said === "string" ? said : said(lead),
        undoable ? () => void undo(leadId, lead.actId) : undefined,
        undoFor,
      );
      void client.invalidateQueries({ queryKey: ["sheet", leadId] });
      void client.invalidateQueries({ queryKey: ["queue"] });
    },
    onError: (error) => say.wrong(error.message),
  });
}
