import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type {
  FairShare,
  PeopleSetup,
  Playback,
  RoutingSetup,
  Version,
  Week,
} from "../wire/routing-schemas.ts";
import { call } from "./api.ts";

interface Page<T> {
  readonly items: T[];
  readonly next: string | null;
}

export const usePeopleSetup = () =>
  useQuery({ queryKey: ["people-setup"], queryFn: () => call<PeopleSetup>("/setup/people") });
export const useWeek = (from: string | null) =>
  useQuery({
    queryKey: ["week", from],
    queryFn: () => call<Week>(`/setup/people/week${from ? `?from=${encodeURIComponent(from)}` : ""}`),
    placeholderData: keepPreviousData,
  });
export const useRouting = () =>
  useQuery({ queryKey: ["routing"], queryFn: () => call<RoutingSetup>("/setup/routing") });
export const useVersions = () =>
  useQuery({
    queryKey: ["routing", "versions"],
    queryFn: () => call<Page<Version>>("/setup/routing/versions").then((p) => p.items),
  });
/** A playback as it goes: told anew by the stream, and asked for now and then in case that is cut. */
export const usePlayback = (id: string | null) =>
  useQuery({
    queryKey: ["playback", id],
    queryFn: () => call<Playback>(`/playbacks/${id}`),
    enabled: id !== null,
    retry: false,
    refetchInterval: (query) => (query.state.data?.state === "running" ? 1_000 : false),
  });
export const useFairShare = (days: string) =>
  useQuery({
    queryKey: ["fair-share", days],
    queryFn: () => call<FairShare>(`/fair-share?days=${days}`),
    placeholderData: keepPreviousData,
  });
