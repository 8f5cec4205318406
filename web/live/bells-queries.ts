import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import type { AnswerOf } from "../calls/table.ts";
import { useSay } from "../ui/Toasts.tsx";
import type { ActMany, Job, Ladder, Target } from "../wire/bells-schemas.ts";
import { call } from "./api.ts";

export const useBells = () => useQuery({ queryKey: ["bells"], queryFn: () => call("GET /setup/bells") });
export const useHours = () => useQuery({ queryKey: ["hours"], queryFn: () => call("GET /setup/hours") });
/** What is being changed is reckoned by the desk: what was drawn stays until the next answer is there. */
export const useDrawnLadder = (target: Target, ladder: Ladder, zone: string) =>
  useQuery({
    queryKey: ["drawn", "ladder", target, ladder, zone],
    queryFn: () => call("POST /setup/bells/draw", { body: { target, ladder, ...(zone && { zone }) } }),
    placeholderData: keepPreviousData,
  });
export const useDrawnWeek = (target: Target | undefined, zone: string) =>
  useQuery({
    queryKey: ["drawn", "week", target, zone],
    queryFn: () => call("POST /setup/bells/week", { body: { target: target!, ...(zone && { zone }) } }),
    placeholderData: keepPreviousData,
    enabled: target !== undefined,
  });
export const useParking = () =>
  useQuery({ queryKey: ["parking"], queryFn: () => call("GET /setup/parking") });
/** Parked leads are asked for by these, each empty for any. */
export interface ParkedAsked {
  readonly text: string;
  readonly reason: string;
  readonly due: "" | "true";
  readonly by: "look" | "lately" | "longest";
}
export const useParked = (asked: ParkedAsked) =>
  useInfiniteQuery({
    queryKey: ["parked", asked],
    queryFn: ({ pageParam }) => call("GET /parked", { query: { limit: 50, ...asked, cursor: pageParam } }),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
export const useMorning = () => useQuery({ queryKey: ["morning"], queryFn: () => call("GET /morning") });
export const useManagersList = () =>
  useQuery({
    queryKey: ["managers-list"],
    queryFn: () => call("GET /managers-list"),
    placeholderData: keepPreviousData,
  });

/** How often it is asked how far something has come (ms). */
const ASK = 300;

/** Every open lead somebody has or is offered, however many. */
export async function openLeadsOf(personId: string): Promise<string[]> {
  const ids: string[] = [];
  let cursor: string | null = null;
  do {
    const page: AnswerOf<"GET /leads"> = await call("GET /leads", {
      query: { filter: "open", owner: personId, limit: 200, cursor },
    });
    ids.push(...page.items.map((l) => l.id));
    cursor = page.next;
  } while (cursor !== null);
  return ids;
}

/** How many an act would change, and how many not and why; asked for once it is whole. */
export const useOutlook = (act: ActMany | null) =>
  useQuery({
    queryKey: ["outlook", act],
    queryFn: () => call("POST /leads/many", { body: { ...act!, dryRun: true } }),
    enabled: act !== null,
    placeholderData: keepPreviousData,
    staleTime: 0,
  });

/**
 * Do the same with many leads, say what was done and what was not, and offer to take all of it back. However many there
 * are: they go on in the background, with how far it has come.
 */
export function useActMany(): (act: ActMany) => Promise<void> {
  const client = useQueryClient();
  const say = useSay();
  const end = async (first: Job): Promise<Job> => {
    let job = first;
    for (let told = 0; job.state === "running"; ) {
      if (job.done > told) say.done(`${job.done} of ${job.total} so far …`);
      told = job.done;
      await new Promise((resolve) => setTimeout(resolve, ASK));
      job = await call("GET /jobs/[id]", { id: job.id });
    }
    void client.invalidateQueries();
    return job;
  };
  const failed = (error: unknown) => say.wrong(error instanceof Error ? error.message : String(error));
  return async (act) => {
    try {
      const { jobId } = await call("POST /leads/many", { body: act });
      const job = await end(await call("GET /jobs/[id]", { id: jobId! }));
      const undo = async () => {
        try {
          say.done((await end(await call("POST /jobs/[id]/undo", { id: job.id }))).said);
        } catch (error) {
          failed(error);
        }
      };
      // Whoever was woken or offered is with somebody by now: that is not taken back.
      const back = act.do === "wake" || act.do === "route" ? undefined : () => void undo();
      if (job.left.length < job.total) say.done(job.said, back);
      else say.wrong(job.left[0] ? `${job.left[0].name}: ${job.left[0].why}` : job.said);
    } catch (error) {
      failed(error);
    }
  };
}
