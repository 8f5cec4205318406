import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { CadencePlan } from "../wire/cadence-schemas.ts";
import { call } from "./api.ts";

export const useCadences = () =>
  useQuery({
    queryKey: ["cadences"],
    queryFn: () => call("GET /setup/cadences"),
    placeholderData: keepPreviousData,
  });

/** What a cadence would do if it began then; asked again with each change, and the last answer stays until the next. */
export const usePreview = (id: string, plan: CadencePlan, startAt: string | null, leadId: string | null) =>
  useQuery({
    queryKey: ["cadence-preview", id, plan, startAt, leadId],
    queryFn: () =>
      call("POST /setup/cadences/[id]/preview", {
        id,
        body: { plan, ...(startAt && { startAt }), ...(leadId && { leadId }) },
      }),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const useCadenceFigures = (id: string | null) =>
  useQuery({
    queryKey: ["cadence-figures", id],
    queryFn: () => call("GET /cadences/[id]/figures", { id: id! }),
    enabled: id !== null,
  });

export const useBehind = (id: string, asked: { version: number; n: number; key: string } | null) =>
  useQuery({
    queryKey: ["cadence-behind", id, asked],
    queryFn: () =>
      call("GET /cadences/[id]/behind", {
        id,
        query: { version: asked!.version, n: asked!.n, key: asked!.key },
      }).then((p) => p.items),
    enabled: asked !== null,
  });

export const useRounds = () =>
  useQuery({
    queryKey: ["rounds"],
    queryFn: () => call("GET /rounds"),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
