import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import type { Condition } from "../../core/condition/tree.ts";
import type { SentTo } from "../calls/table.ts";
import { useSay } from "../ui/Toasts.tsx";
import { call } from "./api.ts";

/** A filter as it stands on the page, saved or not. */
export interface Shown {
  readonly where: Condition | null;
  readonly columns: readonly string[];
  readonly sort: string;
}

/** What a filter is asked by: in the address of a call. */
export const askedBy = ({ where, columns, sort }: Shown): Record<string, string> => ({
  where: JSON.stringify(where),
  columns: columns.join(","),
  sort,
});

export const useLists = () =>
  useQuery({ queryKey: ["lists"], queryFn: () => call("GET /lists"), staleTime: 15_000 });

/** The lists one has pinned; counted anew now and then and not with every lead that moves, as it stands on every page. */
export const usePinned = () =>
  useQuery({
    queryKey: ["pinned-lists"],
    queryFn: () => call("GET /lists", { query: { pinned: "" } }),
    staleTime: 30_000,
    refetchInterval: 60_000,
  });

export const useListSends = (id: string) =>
  useQuery({ queryKey: ["lists", id, "sends"], queryFn: () => call("GET /lists/[id]/sends", { id }) });

/** Have a list sent by itself, no more, or now as well. */
export function useSendList(id: string) {
  const client = useQueryClient();
  const say = useSay();
  const onSuccess = () => void client.invalidateQueries({ queryKey: ["lists", id, "sends"] });
  const add = useMutation({
    mutationFn: (body: SentTo<"POST /lists/[id]/sends">) => call("POST /lists/[id]/sends", { id, body }),
    onSuccess,
  });
  const remove = useMutation({
    mutationFn: (send: string) => call("POST /lists/[id]/sends/[send]/remove", { id, send }),
    onSuccess,
  });
  const now = useMutation({
    mutationFn: (send: string) => call("POST /lists/[id]/sends/[send]/now", { id, send }),
    onSuccess: ({ said }) => {
      say.done(said);
      onSuccess();
    },
  });
  return { add, remove, now };
}

/** The leads of a filter, a page after the other as one comes near their end. */
export const useListed = (shown: Shown | null) =>
  useInfiniteQuery({
    queryKey: ["listed", shown],
    queryFn: ({ pageParam }) =>
      call("GET /leads", {
        query: { ...askedBy(shown!), limit: "100", ...(pageParam && { cursor: pageParam }) },
      }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    enabled: shown !== null,
    placeholderData: keepPreviousData,
    staleTime: 5_000,
  });

export function useSaveList() {
  const client = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: (body: SentTo<"POST /lists">) => call("POST /lists", { body }),
    onSuccess: (list) => {
      say.done(`“${list.name}” is kept.`);
      void client.invalidateQueries({ queryKey: ["lists"] });
      void client.invalidateQueries({ queryKey: ["pinned-lists"] });
    },
  });
}

export function useListAct() {
  const client = useQueryClient();
  const done = () => {
    void client.invalidateQueries({ queryKey: ["lists"] });
    void client.invalidateQueries({ queryKey: ["pinned-lists"] });
  };
  const remove = useMutation({
    mutationFn: (id: string) => call("POST /lists/[id]/remove", { id }),
    onSuccess: done,
  });
  const look = useMutation({
    mutationFn: ({ id, ...body }: { id: string } & SentTo<"POST /lists/[id]/look">) =>
      call("POST /lists/[id]/look", { id, body }),
    onSuccess: done,
  });
  return { remove, look };
}

/** Which lists a lead is in; asked anew with its sheet. */
export const useListsOf = (leadId: string) =>
  useQuery({
    queryKey: ["sheet", leadId, "lists"],
    queryFn: () => call("GET /leads/[id]/lists", { id: leadId }),
  });

/** What a day has come to; today without a date. */
export const useToday = (date: string | null) =>
  useQuery({
    queryKey: ["today", date],
    queryFn: () => call("GET /today", { query: date ? { date } : {} }),
    placeholderData: keepPreviousData,
    // Time alone makes leads ring and steps due.
    refetchInterval: date ? false : 30_000,
  });

export const useMyDay = (date: string | null) =>
  useQuery({
    queryKey: ["my-day", date],
    queryFn: () => call("GET /my-day", { query: date ? { date } : {} }),
    placeholderData: keepPreviousData,
  });
