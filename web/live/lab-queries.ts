import { useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

/** Experiments of the lab: told of by the stream as they go on. */
export const useExperiments = () =>
  useQuery({ queryKey: ["lab"], queryFn: () => call("GET /lab").then((page) => page.items) });

export const useExperiment = (id: string | null) =>
  useQuery({
    queryKey: ["lab", id],
    queryFn: () => call("GET /lab/[id]", { id: id! }),
    enabled: id !== null,
    retry: false,
    refetchInterval: (query) => (query.state.data?.state === "running" ? 2_000 : false),
  });

export const useLabChoices = () =>
  useQuery({ queryKey: ["lab-choices"], queryFn: () => call("GET /lab/choices") });
