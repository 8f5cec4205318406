import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import type { AnswerOf, CallKey, ParamsOf, SentTo } from "../calls/table.ts";
import { useSay } from "../ui/Toasts.tsx";
import type { ChangeReplies, Template } from "../wire/answering-schemas.ts";
import type { FieldsSetup, Mapping } from "../wire/setup-schemas.ts";
import { call, type Given, type With } from "./api.ts";

export type Setup = FieldsSetup & {
  readonly products: readonly { readonly key: string; readonly name: string }[];
};

export const useSources = () =>
  useQuery({
    queryKey: ["sources"],
    queryFn: () => call("GET /setup/sources").then((p) => p.items),
    placeholderData: keepPreviousData,
  });
export const useSource = (key: string) =>
  useQuery({
    queryKey: ["sources", key],
    queryFn: () => call("GET /sources/[id]", { id: key }),
    retry: false,
  });
export const useFieldsSetup = () =>
  useQuery({ queryKey: ["fields"], queryFn: () => call("GET /setup/fields"), staleTime: 60_000 });
/** What waits in quarantine, page by page; of every source when `sourceId` is empty. */
export const useQuarantine = (sourceId: string) =>
  useInfiniteQuery({
    queryKey: ["quarantine", sourceId],
    queryFn: ({ pageParam }) =>
      call("GET /quarantine", { query: { limit: 50, sourceId, cursor: pageParam } }),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
export const useImports = () =>
  useQuery({
    queryKey: ["imports"],
    queryFn: () => call("GET /imports").then((p) => p.items),
    placeholderData: keepPreviousData,
  });
export const useAds = () =>
  useQuery({ queryKey: ["ads"], queryFn: () => call("GET /ads"), staleTime: 0, retry: false });

export const useReplies = () =>
  useQuery({ queryKey: ["replies"], queryFn: () => call("GET /setup/replies") });
export const useTemplates = () =>
  useQuery({ queryKey: ["templates"], queryFn: () => call("GET /setup/templates") });
export const useTemplateVersions = (id: string) =>
  useQuery({
    queryKey: ["templates", id, "versions"],
    queryFn: () => call("GET /setup/templates/[id]/versions", { id }).then((p) => p.items),
    enabled: id !== "",
  });
export const useAlerts = () => useQuery({ queryKey: ["alerts"], queryFn: () => call("GET /setup/alerts") });
export const useCallsSetup = () => useQuery({ queryKey: ["calls"], queryFn: () => call("GET /setup/calls") });
export const useRestraint = () =>
  useQuery({ queryKey: ["restraint"], queryFn: () => call("GET /setup/restraint") });
export const useSuppressed = () =>
  useQuery({
    queryKey: ["suppressed"],
    queryFn: () => call("GET /setup/suppressed").then((p) => p.items),
  });

/** What one person would receive under policies not in force, asked again with each change. */
export const useTriedReplies = (
  change: ChangeReplies & { sourceId: string; leadId: string | null; at: "now" | "night" },
) =>
  useQuery({
    queryKey: ["tried-replies", change],
    queryFn: () => call("POST /setup/replies/try", { body: change }),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** A template not saved yet as it would be filled in, asked again with each change. */
export const useTriedTemplate = (template: Template, language: string, leadId: string | null) =>
  useQuery({
    queryKey: ["tried-template", template, language, leadId],
    queryFn: () => call("POST /setup/templates/try", { body: { template, language, leadId } }),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** What a sample becomes under a mapping that is not in force, asked again with each change. */
export const useTried = (key: string, fields: Record<string, string>, mapping: Mapping) =>
  useQuery({
    queryKey: ["tried", key, fields, mapping],
    queryFn: () => call("POST /sources/[id]/try", { id: key, body: { fields, mapping } }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

interface Change<K extends CallKey> {
  readonly call: K;
  readonly params?: Readonly<Record<ParamsOf<K>, string>>;
  readonly query?: With<K>["query"];
  readonly body?: SentTo<K>;
  readonly said: string | ((answer: AnswerOf<K>) => string);
  readonly after?: (answer: AnswerOf<K>) => void;
}

/** A change whose call and body fit each other: what has a body must send it. */
type Fitting<K extends CallKey> = Change<K> &
  ([SentTo<K>] extends [undefined] ? unknown : { readonly body: SentTo<K> }) &
  ([ParamsOf<K>] extends [never] ? unknown : { readonly params: Readonly<Record<ParamsOf<K>, string>> });

/** Change something, say so, and look again at everything that may show it. */
export function useChange() {
  const client = useQueryClient();
  const say = useSay();
  const change = useMutation({
    mutationFn: ({ call: key, params, query, body }: Change<CallKey>) =>
      call(key, ...([{ ...params, query, body }] as unknown as Given<CallKey>)),
    onSuccess: (answer, { said, after }) => {
      const text = typeof said === "string" ? said : said(answer);
      if (text) say.done(text);
      // What the setup says shows nearly everywhere.
      void client.invalidateQueries();
      after?.(answer);
    },
    onError: (error) => say.wrong(error.message),
  });
  return {
    isPending: change.isPending,
    mutate: <K extends CallKey>(what: Fitting<K>) => change.mutate(what as unknown as Change<CallKey>),
    mutateAsync: <K extends CallKey>(what: Fitting<K>): Promise<AnswerOf<K>> =>
      change.mutateAsync(what as unknown as Change<CallKey>) as Promise<AnswerOf<K>>,
  };
}
