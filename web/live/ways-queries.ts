import { useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

export const useWays = () => useQuery({ queryKey: ["ways"], queryFn: () => call("GET /setup/ways") });
