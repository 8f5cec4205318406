import { useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

export const useBackups = () => useQuery({ queryKey: ["backups"], queryFn: () => call("GET /backups") });

export const useWays = () => useQuery({ queryKey: ["ways"], queryFn: () => call("GET /setup/ways") });
