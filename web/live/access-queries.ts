import { useQuery } from "@tanstack/react-query";
import type { Access, Key, Session } from "../wire/access-schemas.ts";
import type { Audit } from "../wire/routing-schemas.ts";
import { call } from "./api.ts";

interface Page<T> {
  readonly items: T[];
  readonly next: string | null;
}

export const useAccess = () => useQuery({ queryKey: ["access"], queryFn: () => call<Access>("/access") });
export const useKeys = () =>
  useQuery({ queryKey: ["keys"], queryFn: () => call<Page<Key>>("/keys").then((p) => p.items) });
export const useSessions = () =>
  useQuery({
    queryKey: ["sessions"],
    queryFn: () => call<Page<Session>>("/me/sessions").then((p) => p.items),
  });
export const useAudit = () =>
  useQuery({
    queryKey: ["audit"],
    queryFn: () => call<Page<Audit>>("/audit?limit=200").then((p) => p.items),
  });
