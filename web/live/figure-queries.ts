import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

/** Figures over the record. They are asked again when one comes back to them, not with each thing that happens. */
const FRESH = 60_000;

export interface SpanAsked {
  readonly from?: string;
  readonly to?: string;
}

const asked = <K extends string>(kind: K, query: Readonly<Record<string, string | undefined>>) => ({
  queryKey: ["figures", kind, query],
  placeholderData: keepPreviousData,
  staleTime: FRESH,
});

/** A query without what is not asked for. */
const sent = (query: Readonly<Record<string, string | undefined>>): Record<string, string> =>
  Object.fromEntries(Object.entries(query).filter((pair): pair is [string, string] => !!pair[1]));

export const useResponse = (
  query: SpanAsked & { clock?: string; until?: string; by?: string; split?: string },
) =>
  useQuery({
    ...asked("response", { ...query }),
    queryFn: () => call("GET /figures/response", { query: sent({ ...query }) }),
  });

export const useEffort = (query: SpanAsked) =>
  useQuery({
    ...asked("effort", { ...query }),
    queryFn: () => call("GET /figures/effort", { query: sent({ ...query }) }),
  });

export const useSourceFigures = (query: SpanAsked & { by?: string; attribution?: string }) =>
  useQuery({
    ...asked("sources", { ...query }),
    queryFn: () => call("GET /figures/sources", { query: sent({ ...query }) }),
  });

export const usePeopleFigures = (query: SpanAsked) =>
  useQuery({
    ...asked("people", { ...query }),
    queryFn: () => call("GET /figures/people", { query: sent({ ...query }) }),
  });

export const useStaffing = (
  query: SpanAsked & { goal?: string; minutes?: string; seconds?: string; day?: string; more?: string },
) =>
  useQuery({
    ...asked("staffing", { ...query }),
    queryFn: () => call("GET /figures/staffing", { query: sent({ ...query }) }),
  });

export const useSpend = () =>
  useQuery({ queryKey: ["figures", "spend"], queryFn: () => call("GET /figures/spend", {}) });

export interface BehindAsked extends SpanAsked {
  readonly part: string;
  readonly by?: string;
  readonly key?: string;
}

export const useBehind = (query: BehindAsked | null) =>
  useQuery({
    queryKey: ["figures", "behind", query],
    queryFn: () => call("GET /figures/behind", { query: sent({ ...query }) }),
    enabled: query !== null,
  });

/** How many are needed, by running the desk: as far as the last run has come. */
export const useNeededRun = () =>
  useQuery({ queryKey: ["needed-run"], queryFn: () => call("GET /figures/staffing/run") });

export const useLetter = () => useQuery({ queryKey: ["letter"], queryFn: () => call("GET /figures/letter") });

export const useLetterPreview = (parts: readonly string[]) =>
  useQuery({
    ...asked("letter", { parts: parts.join(",") }),
    enabled: parts.length > 0,
    queryFn: () => call("GET /figures/letter/preview", { query: { parts: parts.join(",") } }),
  });
