import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSay } from "../ui/Toasts.tsx";
import type {
  ActedMany,
  ActMany,
  BellsSetup,
  DrawnLadder,
  DrawnWeek,
  HoursSetup,
  Ladder,
  ManagersList,
  MorningSummary,
  ParkedList,
  ParkingSetup,
  Target,
} from "../wire/bells-schemas.ts";
import { call } from "./api.ts";

export const useBells = () =>
  useQuery({ queryKey: ["bells"], queryFn: () => call<BellsSetup>("/setup/bells") });
export const useHours = () =>
  useQuery({ queryKey: ["hours"], queryFn: () => call<HoursSetup>("/setup/hours") });
/** What is being changed is reckoned by the desk: what was drawn stays until the next answer is there. */
export const useDrawnLadder = (target: Target, ladder: Ladder, zone: string) =>
  useQuery({
    queryKey: ["drawn", "ladder", target, ladder, zone],
    queryFn: () => call<DrawnLadder>("/setup/bells/draw", { target, ladder, ...(zone && { zone }) }),
    placeholderData: keepPreviousData,
  });
export const useDrawnWeek = (target: Target | undefined, zone: string) =>
  useQuery({
    queryKey: ["drawn", "week", target, zone],
    queryFn: () => call<DrawnWeek>("/setup/bells/week", { target, ...(zone && { zone }) }),
    placeholderData: keepPreviousData,
    enabled: target !== undefined,
  });
export const useParking = () =>
  useQuery({ queryKey: ["parking"], queryFn: () => call<ParkingSetup>("/setup/parking") });
export const useParked = (cursor: string | null) =>
  useQuery({
    queryKey: ["parked", cursor],
    queryFn: () => call<ParkedList>(`/parked?limit=50${cursor ? `&cursor=${cursor}` : ""}`),
    placeholderData: keepPreviousData,
  });
export const useMorning = () =>
  useQuery({ queryKey: ["morning"], queryFn: () => call<MorningSummary>("/morning") });
export const useManagersList = () =>
  useQuery({
    queryKey: ["managers-list"],
    queryFn: () => call<ManagersList>("/managers-list"),
    placeholderData: keepPreviousData,
  });

const leads = (n: number) => `${n} ${n === 1 ? "lead" : "leads"}`;

/** Do the same to many leads, say what came of it, and offer to take all of it back. */
export function useActMany(): (act: ActMany, done: string) => Promise<void> {
  const client = useQueryClient();
  const say = useSay();
  const send = (body: ActMany) => call<ActedMany>("/leads/many", body);
  return async (act, done) => {
    try {
      const { done: acted, left } = await send(act);
      const stayed = left.length
        ? ` ${leads(left.length)} could not be: ${left[0]!.name}, ${left[0]!.why}`
        : "";
      const undo = async () => {
        const acts = Object.fromEntries(acted.map(({ id, actId }) => [id, actId]));
        const back = await send({ ids: acted.map((a) => a.id), do: "undo", acts });
        say.done(
          `${leads(back.done.length)} as before.${back.left.length ? ` ${leads(back.left.length)} stay: ${back.left[0]!.why}` : ""}`,
        );
        void client.invalidateQueries();
      };
      if (acted.length > 0) say.done(`${leads(acted.length)} ${done}.${stayed}`, () => void undo());
      else say.wrong(stayed.trim());
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
    void client.invalidateQueries();
  };
}
