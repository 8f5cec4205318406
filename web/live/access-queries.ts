import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

export const useAccess = () => useQuery({ queryKey: ["access"], queryFn: () => call("GET /access") });
export const useKeys = () =>
  useQuery({ queryKey: ["keys"], queryFn: () => call("GET /keys").then((p) => p.items) });
/** One's own secret links. */
export const useOpenLinks = () =>
  useQuery({ queryKey: ["open-links"], queryFn: () => call("GET /me/links").then((p) => p.items) });

export const useSessions = () =>
  useQuery({
    queryKey: ["sessions"],
    queryFn: () => call("GET /me/sessions").then((p) => p.items),
  });
/** Changes are asked for by these, each empty for any. */
export interface AuditAsked {
  readonly by: string;
  readonly about: string;
  readonly from: string;
  readonly to: string;
}
/** Changes, page by page. */
export const useAudit = (asked: AuditAsked) =>
  useInfiniteQuery({
    queryKey: ["audit", asked],
    queryFn: ({ pageParam }) => call("GET /audit", { query: { limit: 50, ...asked, cursor: pageParam } }),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
