import { useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

/** What is asked for by the places of Set-up between a lead and a customer. */

export const useStages = () => useQuery({ queryKey: ["stages"], queryFn: () => call("GET /setup/stages") });
export const useQuestionSets = () =>
  useQuery({ queryKey: ["questions"], queryFn: () => call("GET /setup/questions") });
export const useWorksheets = () =>
  useQuery({ queryKey: ["worksheets"], queryFn: () => call("GET /setup/worksheets") });
export const useHooks = () => useQuery({ queryKey: ["hooks"], queryFn: () => call("GET /setup/hooks") });
export const useDeliveries = () =>
  useQuery({
    queryKey: ["deliveries"],
    queryFn: () => call("GET /hooks/deliveries", { query: { limit: 50 } }).then((p) => p.items),
  });
