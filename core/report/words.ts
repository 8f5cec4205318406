import { duration } from "../time/words.ts";

/** Figures as people say them. */

/** Minutes; short ones with their seconds. */
export const sayMinutes = (minutes: number | null): string =>
  minutes === null ? "–" : minutes < 1 / 120 ? "at once" : duration(Math.round(minutes * 60) * 1000);

/** A share, 0 to 1. */
export const percent = (share: number | null): string =>
  share === null ? "–" : `${(share * 100).toFixed(share > 0.0995 || share === 0 ? 0 : 1)} %`;

/** Days of the week, the first of which is 0. */
export const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"] as const;

/** An hour of the week, 0 to 167: `Tue 9:00`. */
export const sayHourOfWeek = (hour: number): string => `${WEEKDAYS[Math.floor(hour / 24)]} ${hour % 24}:00`;
