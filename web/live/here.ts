import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import type { AlsoHere } from "../wire/schemas.ts";
import { call } from "./api.ts";

/** How often somebody who has a lead open says so (ms): less than half of what the desk counts them there for. */
const AGAIN = 20_000;

/** Say that this lead lies open here, and hear who else has it open. */
export function useAlsoHere(leadId: string): AlsoHere["others"] {
  const { data } = useQuery({
    queryKey: ["here", leadId],
    queryFn: () => call("POST /leads/[id]/here", { id: leadId, body: { here: true } }),
    refetchInterval: AGAIN,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  useEffect(() => {
    const leave = () =>
      void call("POST /leads/[id]/here", { id: leadId, body: { here: false } }).catch(() => {});
    // A page that is closed waits for nothing: this is sent all the same.
    const close = () =>
      navigator.sendBeacon(
        `/api/v1/leads/${leadId}/here`,
        new Blob(['{"here":false}'], { type: "application/json" }),
      );
    addEventListener("pagehide", close);
    return () => {
      removeEventListener("pagehide", close);
      leave();
    };
  }, [leadId]);
  return data?.others ?? [];
}
