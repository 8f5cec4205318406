import { useQuery } from "@tanstack/react-query";
import { call } from "./api.ts";

export const useCompany = () =>
  useQuery({ queryKey: ["company"], queryFn: () => call("GET /setup/company") });
/** What standards know never changes while a page is open. */
export const useChoices = () =>
  useQuery({
    queryKey: ["choices"],
    queryFn: () => call("GET /setup/choices"),
    staleTime: Number.POSITIVE_INFINITY,
  });
export const useProducts = () =>
  useQuery({ queryKey: ["products"], queryFn: () => call("GET /setup/products") });
export const useTerritories = () =>
  useQuery({ queryKey: ["territories"], queryFn: () => call("GET /setup/territories") });
export const useWords = () => useQuery({ queryKey: ["words"], queryFn: () => call("GET /setup/words") });
export const useFirstSteps = (asked = true) =>
  useQuery({ queryKey: ["first-steps"], queryFn: () => call("GET /first-steps"), enabled: asked });
