import { useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

export const useBackups = () => useQuery({ queryKey: ["backups"], queryFn: () => call("GET /backups") });

/** Who is to be erased, who was, and how long people are kept. */
export const usePrivacy = () => useQuery({ queryKey: ["privacy"], queryFn: () => call("GET /privacy") });
/** What is kept of the person behind a lead. */
export const usePerson = (id: string) =>
  useQuery({ queryKey: ["person", id], queryFn: () => call("GET /leads/[id]/person", { id }), staleTime: 0 });

export const useWays = () => useQuery({ queryKey: ["ways"], queryFn: () => call("GET /setup/ways") });
