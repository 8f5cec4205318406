import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import type { AnswerOf } from "../calls/table.ts";
import { useSay } from "../ui/Toasts.tsx";
import type { ActedMany, ActMany, Ladder, Target } from "../wire/bells-schemas.ts";
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

const leads = (n: number) => `${n} ${n === 1 ? "lead" : "leads"}`;

/** So many leads are sent with one call: a long list moves on in sight, and the desk answers others meanwhile. */
const AT_ONCE = 200;

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

/**
 * Do the same to many leads, say what was done and what was not, and offer to take all of it back. However many there are:
 * they go a part at a time, with how far it has come; what fails on the way leaves said what was done before it.
 */
export function useActMany(): (act: ActMany, done: string) => Promise<void> {
  const client = useQueryClient();
  const say = useSay();
  const send = async (body: ActMany): Promise<ActedMany & { failed: string | null }> => {
    const all: ActedMany = { done: [], left: [] };
    for (let at = 0; at < body.ids.length; at += AT_ONCE) {
      try {
        const { done, left } = await call("POST /leads/many", {
          body: {
            ...body,
            ids: body.ids.slice(at, at + AT_ONCE),
          },
        });
        all.done.push(...done);
        all.left.push(...left);
      } catch (error) {
        return { ...all, failed: error instanceof Error ? error.message : String(error) };
      }
      const so = at + AT_ONCE;
      if (so < body.ids.length) say.done(`${so} of ${body.ids.length} so far …`);
    }
    return { ...all, failed: null };
  };
  /** What was not done, in words; empty when all was. */
  const rest = ({ left, failed }: { left: ActedMany["left"]; failed: string | null }, missed: number) =>
    [
      left.length > 0 ? `${leads(left.length)} could not be: ${left[0]!.name}, ${left[0]!.why}` : "",
      failed !== null ? `${leads(missed)} were not reached: ${failed}` : "",
    ]
      .filter(Boolean)
      .join(" ");
  return async (act, done) => {
    const sent = await send(act);
    const { done: acted, left } = sent;
    const stayed = rest(sent, act.ids.length - acted.length - left.length);
    const undo = async () => {
      const acts = Object.fromEntries(acted.map(({ id, actId }) => [id, actId]));
      const back = await send({ ids: acted.map((a) => a.id), do: "undo", acts });
      const stay = rest(back, acted.length - back.done.length - back.left.length);
      say.done(`${leads(back.done.length)} as before. ${stay}`.trim());
      void client.invalidateQueries();
    };
    // Whoever was woken is offered to somebody by now: that is not taken back.
    const back = act.do === "wake" ? undefined : () => void undo();
    if (acted.length > 0) say.done(`${leads(acted.length)} ${done}. ${stayed}`.trim(), back);
    else say.wrong(stayed);
    void client.invalidateQueries();
  };
}
