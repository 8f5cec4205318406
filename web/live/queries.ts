import {
  keepPreviousData,
  type QueryClient,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import type { AnswerOf, CallKey, SentTo } from "../calls/table.ts";
import { useSay } from "../ui/Toasts.tsx";
import type { Acted, Lead, Queue, Sheet } from "../wire/schemas.ts";
import { call, type Given } from "./api.ts";
import { heardTime } from "./clock.ts";

export const useMe = () =>
  useQuery({ queryKey: ["me"], queryFn: () => call("GET /me"), staleTime: Number.POSITIVE_INFINITY });
/** What whoever looks was asked in notes. */
export const useAsked = () => useQuery({ queryKey: ["asked"], queryFn: () => call("GET /me/asked") });
export const usePeople = () =>
  useQuery({
    queryKey: ["people"],
    queryFn: () => call("GET /people").then((p) => p.items),
    placeholderData: keepPreviousData,
  });
export const useGroups = () =>
  useQuery({
    queryKey: ["groups"],
    queryFn: () => call("GET /groups").then((p) => p.items),
    staleTime: 60_000,
  });
/** What each outcome would set as the next step, for this lead, if logged now. */
export const useOutcomes = (leadId: string) =>
  useQuery({
    queryKey: ["outcomes", leadId],
    queryFn: () => call("GET /outcomes", { query: { lead: leadId } }).then((p) => p.items),
    staleTime: 0,
  });

/** The queue; with `later` also the leads that are not due today. */
/** What of the queue is asked for: all of it, with nothing said. */
interface OfQueue {
  readonly later?: boolean;
  readonly who?: string | null;
  readonly source?: string | null;
}

export const useQueue = ({ later = false, who = null, source = null }: OfQueue = {}) =>
  useQuery({
    queryKey: ["queue", later, who, source],
    queryFn: async () => {
      const query = { limit: 60, later: later ? "" : null, who, source };
      const queue = await call("GET /queue", { query });
      heardTime(Date.parse(queue.now));
      return queue;
    },
    placeholderData: keepPreviousData,
  });

export const useSheet = (id: string | null) =>
  useQuery({
    queryKey: ["sheet", id],
    queryFn: () => call("GET /leads/[id]/sheet", { id: id! }),
    enabled: id !== null,
    retry: false,
  });

/** What is wrong with the whole desk now. Some of it comes with time alone, so it is asked for again and again. */
export const useTroubles = () =>
  useQuery({
    queryKey: ["troubles"],
    queryFn: () => call("GET /troubles").then((p) => p.items),
    staleTime: 0,
    refetchInterval: 30_000,
  });

/** Let the first replies of a source go that were held, or drop them. */
export function useReleaseReplies(sourceId: string) {
  const client = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: (send: boolean) => call("POST /held-replies", { body: { sourceId, send } }),
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
    queryFn: () => call("GET /search", { query: { limit: 8, q } }),
    enabled: q.trim().length > 1,
    placeholderData: keepPreviousData,
  });

export const useOutside = (channel: string) =>
  useQuery({
    queryKey: ["outside", channel],
    queryFn: () =>
      call("GET /rehearsal/outside", { query: { channel, limit: 40 } }).then((p) => p.items.reverse()),
  });

/** What is done to one lead and answered with the lead as it then is: `take` of `POST /leads/[id]/take`. */
type LeadAct = {
  [K in CallKey]: K extends `POST /leads/[id]/${infer Name}`
    ? AnswerOf<K> extends { actId: string }
      ? Name
      : never
    : never;
}[CallKey];
type SentBy<A extends LeadAct> = SentTo<`POST /leads/[id]/${A}` & CallKey>;

interface Act<A extends LeadAct> {
  readonly leadId: string;
  readonly act: A;
  /** Of what concerns one cadence the lead is in: which. */
  readonly run?: string;
  /** Of what concerns one note: which. */
  readonly note?: string;
  readonly body?: SentBy<A>;
  /** What to say when it is done. */
  readonly said: string | ((lead: Lead) => string);
  readonly undoable?: boolean;
  /** How long it can be taken back (ms), when not as long as usual. */
  readonly undoFor?: number;
}
type FittingAct<A extends LeadAct> = Act<A> &
  ([SentBy<A>] extends [undefined] ? unknown : { readonly body: SentBy<A> });
/** What may be done once an act is done. */
interface Then {
  readonly onSuccess?: (lead: Lead) => void;
  readonly onError?: (error: Error) => void;
}

/** Show a lead as an act has just answered it, wherever it stands; the stream brings what else has changed by it. */
function showLead(client: QueryClient, lead: Lead): void {
  client.setQueryData<Sheet>(
    ["sheet", lead.id],
    (sheet) => sheet && { ...sheet, lead: { ...sheet.lead, ...lead } },
  );
  client.setQueriesData<Queue>({ queryKey: ["queue"] }, (queue) => {
    if (!queue) return queue;
    const bands = queue.bands.map((band) => ({
      ...band,
      items: band.items.map((row) => (row.id === lead.id ? { ...row, ...lead } : row)),
    }));
    return { ...queue, bands };
  });
}

/** Take back an act on a lead, and say so; what stands in the way is said too. */
export function useUndo(): (leadId: string, actId: string) => Promise<void> {
  const say = useSay();
  return async (leadId, actId) => {
    try {
      await call("POST /leads/[id]/undo", { id: leadId, body: { actId } });
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
      await call("POST /messages/[id]/resend", { id: messageId });
      say.done("It is tried again.");
      void client.invalidateQueries({ queryKey: ["sheet", leadId] });
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
}

/** Do something to a lead, say so, and offer to take it back. Sheet and queue show at once what the desk answered. */
export function useAct() {
  const client = useQueryClient();
  const say = useSay();
  const undo = useUndo();
  const act = useMutation({
    mutationFn: ({ leadId, act, run, note, body }: Act<LeadAct>): Promise<Acted> =>
      call(
        `POST /leads/[id]/${act}`,
        ...([{ id: leadId, ...(run && { run }), ...(note && { note }), body }] as unknown as Given<CallKey>),
      ) as Promise<Acted>,
    onSuccess: ({ actId, ...lead }, { leadId, said, undoable = true, undoFor }) => {
      say.done(
        typeof said === "string" ? said : said(lead),
        undoable ? () => void undo(leadId, actId) : undefined,
        undoFor,
      );
      showLead(client, lead);
    },
    onError: (error) => say.wrong(error.message),
  });
  return {
    isPending: act.isPending,
    mutate: <A extends LeadAct>(what: FittingAct<A>, then: Then = {}) =>
      act.mutate(what as unknown as Act<LeadAct>, then),
    mutateAsync: <A extends LeadAct>(what: FittingAct<A>): Promise<Acted> =>
      act.mutateAsync(what as unknown as Act<LeadAct>),
  };
}
