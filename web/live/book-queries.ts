import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { SentTo } from "../calls/table.ts";
import { useSay } from "../ui/Toasts.tsx";
import type { Deal } from "../wire/customer-schemas.ts";
import { call } from "./api.ts";

/** What is asked for of the book of customers, and what is done to it. */

export const useBoard = () =>
  useQuery({ queryKey: ["board"], queryFn: () => call("GET /board"), staleTime: 0 });

export const useDeal = (id: string | null) =>
  useQuery({
    queryKey: ["deal", id],
    queryFn: () => call("GET /deals/[id]", { id: id ?? "" }),
    enabled: id !== null,
  });

export const useEnded = (on: boolean) =>
  useQuery({
    queryKey: ["board", "ended"],
    queryFn: () => call("GET /deals", { query: { closed: "true", limit: 200 } }).then((p) => p.items),
    enabled: on,
  });

export const useCompanies = (q: string) =>
  useQuery({
    queryKey: ["companies", q],
    queryFn: () => call("GET /companies", { query: { q, limit: 200 } }),
    placeholderData: keepPreviousData,
  });

export const useContacts = (q: string) =>
  useQuery({
    queryKey: ["contacts", q],
    queryFn: () => call("GET /contacts", { query: { q, limit: 200 } }),
    placeholderData: keepPreviousData,
  });

export const useCompany = (id: string | null) =>
  useQuery({
    queryKey: ["company", id],
    queryFn: () => call("GET /companies/[id]", { id: id ?? "" }),
    enabled: id !== null,
  });

export const useContact = (id: string | null) =>
  useQuery({
    queryKey: ["contact", id],
    queryFn: () => call("GET /contacts/[id]", { id: id ?? "" }),
    enabled: id !== null,
  });

/** What the book shows: looked at again after each change of it. */
export const BOOK_KEYS = [
  "board",
  "deal",
  "company",
  "contact",
  "companies",
  "contacts",
  "hand-over",
] as const;

/** Change a deal; what is done can be taken back from the toast. Resolves to what it is now, or null when it was refused. */
export function useChangeDeal() {
  const client = useQueryClient();
  const say = useSay();
  const again = () => {
    for (const key of BOOK_KEYS) void client.invalidateQueries({ queryKey: [key] });
  };
  const undo = async (id: string, actId: string) => {
    try {
      await call("POST /deals/[id]/undo", { id, body: { actId } });
      say.done("Undone.");
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
    again();
  };
  const change = useMutation({
    mutationFn: ({ id, body }: { id: string; body: SentTo<"POST /deals/[id]">; said: string }) =>
      call("POST /deals/[id]", { id, body }),
    onSuccess: ({ actId, ...deal }, { said }) => {
      client.setQueryData(["deal", deal.id], deal satisfies Deal);
      say.done(said, () => void undo(deal.id, actId));
    },
    onError: (error) => say.wrong(error.message),
    onSettled: again,
  });
  return change;
}
