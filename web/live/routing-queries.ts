import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

export const usePeopleSetup = () =>
  useQuery({ queryKey: ["people-setup"], queryFn: () => call("GET /setup/people") });
export const useWeek = (from: string | null) =>
  useQuery({
    queryKey: ["week", from],
    queryFn: () => call("GET /setup/people/week", { query: { from } }),
    placeholderData: keepPreviousData,
  });
export const useRouting = () =>
  useQuery({ queryKey: ["routing"], queryFn: () => call("GET /setup/routing") });
export const useVersions = () =>
  useQuery({
    queryKey: ["routing", "versions"],
    queryFn: () => call("GET /setup/routing/versions").then((p) => p.items),
  });
/** A playback as it goes: told again by the stream, and asked for now and then in case that is cut. */
export const usePlayback = (id: string | null) =>
  useQuery({
    queryKey: ["playback", id],
    queryFn: () => call("GET /playbacks/[id]", { id: id! }),
    enabled: id !== null,
    retry: false,
    refetchInterval: (query) => (query.state.data?.state === "running" ? 1_000 : false),
  });
export const useFairShare = (days: string) =>
  useQuery({
    queryKey: ["fair-share", days],
    queryFn: () => call("GET /fair-share", { query: { days } }),
    placeholderData: keepPreviousData,
  });
