import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSay } from "../ui/Toasts.tsx";
import type {
  AlertsSetup,
  CallsSetup,
  ChangeReplies,
  RepliesSetup,
  RestraintSetup,
  Suppressed,
  Template,
  TemplatesSetup,
  TemplateVersion,
  TriedReplies,
  TriedTemplate,
} from "../wire/answering-schemas.ts";
import type { FieldsSetup, Import, Mapping, SourceDetail, SourceRow, Tried } from "../wire/setup-schemas.ts";
import { call } from "./api.ts";

interface Page<T> {
  readonly items: T[];
}

export interface Quarantined {
  /** It could be read and was held back. */
  readonly insistable: boolean;
  readonly id: string;
  readonly sourceId: string;
  readonly receivedAt: string;
  readonly reason: string | null;
  readonly contentType: string;
  readonly raw: string;
}

export interface Ads {
  readonly connected: boolean;
  readonly problem: string | null;
  readonly accounts: readonly {
    readonly id: string;
    readonly name: string;
    readonly pages: readonly {
      readonly id: string;
      readonly name: string;
      readonly forms: readonly {
        readonly id: string;
        readonly name: string;
        readonly source: string | null;
      }[];
    }[];
  }[];
}

export type Setup = FieldsSetup & {
  readonly products: readonly { readonly key: string; readonly name: string }[];
};

export const useSources = () =>
  useQuery({
    queryKey: ["sources"],
    queryFn: () => call<Page<SourceRow>>("/setup/sources").then((p) => p.items),
    placeholderData: keepPreviousData,
  });
export const useSource = (key: string) =>
  useQuery({
    queryKey: ["sources", key],
    queryFn: () => call<SourceDetail>(`/sources/${key}`),
    retry: false,
  });
export const useFieldsSetup = () =>
  useQuery({ queryKey: ["fields"], queryFn: () => call<Setup>("/setup/fields"), staleTime: 60_000 });
export const useQuarantine = () =>
  useQuery({
    queryKey: ["quarantine"],
    queryFn: () => call<Page<Quarantined>>("/quarantine?limit=200").then((p) => p.items),
    placeholderData: keepPreviousData,
  });
export const useImports = () =>
  useQuery({
    queryKey: ["imports"],
    queryFn: () => call<Page<Import>>("/imports").then((p) => p.items),
    placeholderData: keepPreviousData,
  });
export const useAds = () =>
  useQuery({ queryKey: ["ads"], queryFn: () => call<Ads>("/ads"), staleTime: 0, retry: false });

export const useReplies = () =>
  useQuery({ queryKey: ["replies"], queryFn: () => call<RepliesSetup>("/setup/replies") });
export const useTemplates = () =>
  useQuery({ queryKey: ["templates"], queryFn: () => call<TemplatesSetup>("/setup/templates") });
export const useTemplateVersions = (id: string) =>
  useQuery({
    queryKey: ["templates", id, "versions"],
    queryFn: () => call<Page<TemplateVersion>>(`/setup/templates/${id}/versions`).then((p) => p.items),
    enabled: id !== "",
  });
export const useAlerts = () =>
  useQuery({ queryKey: ["alerts"], queryFn: () => call<AlertsSetup>("/setup/alerts") });
export const useCallsSetup = () =>
  useQuery({ queryKey: ["calls"], queryFn: () => call<CallsSetup>("/setup/calls") });
export const useRestraint = () =>
  useQuery({ queryKey: ["restraint"], queryFn: () => call<RestraintSetup>("/setup/restraint") });
export const useSuppressed = () =>
  useQuery({
    queryKey: ["suppressed"],
    queryFn: () => call<Page<Suppressed>>("/setup/suppressed").then((p) => p.items),
  });

/** What one person would receive under policies not in force, asked anew with each change. */
export const useTriedReplies = (
  change: ChangeReplies & { sourceId: string; leadId: string | null; at: string },
) =>
  useQuery({
    queryKey: ["tried-replies", change],
    queryFn: () => call<TriedReplies>("/setup/replies/try", change),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** A template not saved yet as it would be filled in, asked anew with each change. */
export const useTriedTemplate = (template: Template, language: string, leadId: string | null) =>
  useQuery({
    queryKey: ["tried-template", template, language, leadId],
    queryFn: () => call<TriedTemplate>("/setup/templates/try", { template, language, leadId }),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** What a sample becomes under a mapping that is not in force, asked anew with each change. */
export const useTried = (key: string, fields: Record<string, string>, mapping: Mapping) =>
  useQuery({
    queryKey: ["tried", key, fields, mapping],
    queryFn: () => call<Tried>(`/sources/${key}/try`, { fields, mapping }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

interface Change<T> {
  readonly path: string;
  readonly body: unknown;
  readonly said: string | ((answer: T) => string);
  readonly after?: (answer: T) => void;
}

/** Change something in Set-up, say so, and look at everything that may show it anew. */
export function useChange<T>() {
  const client = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: ({ path, body }: Change<T>) => call<T>(path, body),
    onSuccess: (answer, { said, after }) => {
      const text = typeof said === "string" ? said : said(answer);
      if (text) say.done(text);
      // What the setup says shows nearly everywhere.
      void client.invalidateQueries();
      after?.(answer);
    },
    onError: (error) => say.wrong(error.message),
  });
}
