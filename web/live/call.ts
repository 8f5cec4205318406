import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSay } from "../ui/Toasts.tsx";
import { call } from "./api.ts";

/** The call whoever looks is in, or whose outcome they have not said yet. */
export const useOpenCall = () =>
  useQuery({ queryKey: ["call"], queryFn: () => call("GET /calls"), staleTime: 0 });

/** Call a lead. */
export function usePlaceCall() {
  const client = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: (leadId: string) => call("POST /calls", { body: { leadId } }),
    onSuccess: (placed) => client.setQueryData(["call"], placed),
    onError: (error) => say.wrong(error.message),
  });
}

/** Something done to the call: hang up, put aside. */
export function useCallAct() {
  const client = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: ({ id, act }: { id: string; act: "hang-up" | "done" }) =>
      call(`POST /calls/[id]/${act}`, { id }),
    onSuccess: () => client.invalidateQueries({ queryKey: ["call"] }),
    onError: (error) => say.wrong(error.message),
  });
}

/** Rehearsal: calls the desk has on the line. */
export const useOnTheLine = () =>
  useQuery({
    queryKey: ["phones"],
    queryFn: () => call("GET /rehearsal/phone").then((p) => p.items),
    staleTime: 0,
  });
