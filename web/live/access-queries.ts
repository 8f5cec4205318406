import { useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

export const useAccess = () => useQuery({ queryKey: ["access"], queryFn: () => call("GET /access") });
export const useKeys = () =>
  useQuery({ queryKey: ["keys"], queryFn: () => call("GET /keys").then((p) => p.items) });
export const useSessions = () =>
  useQuery({
    queryKey: ["sessions"],
    queryFn: () => call("GET /me/sessions").then((p) => p.items),
  });
export const useAudit = () =>
  useQuery({
    queryKey: ["audit"],
    queryFn: () => call("GET /audit", { query: { limit: 200 } }).then((p) => p.items),
  });
