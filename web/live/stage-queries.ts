import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

/** What is asked for by the places of Set-up between a lead and a customer. */

export const useStages = () => useQuery({ queryKey: ["stages"], queryFn: () => call("GET /setup/stages") });
export const useQuestionSets = () =>
  useQuery({ queryKey: ["questions"], queryFn: () => call("GET /setup/questions") });
export const useWorksheets = () =>
  useQuery({ queryKey: ["worksheets"], queryFn: () => call("GET /setup/worksheets") });
export const useHooks = () => useQuery({ queryKey: ["hooks"], queryFn: () => call("GET /setup/hooks") });
/** What other systems were told, page by page; of one, or of one state, where that is asked for. */
export const useDeliveries = (hook: string, state: string) =>
  useInfiniteQuery({
    queryKey: ["deliveries", hook, state],
    queryFn: ({ pageParam }) =>
      call("GET /hooks/deliveries", { query: { limit: 50, hook, state, cursor: pageParam } }),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
