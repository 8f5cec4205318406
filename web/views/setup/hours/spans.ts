/** How far back a report looks, in days. */
export const SPANS = [
  { value: "7", label: "the last 7 days" },
  { value: "30", label: "the last 30 days" },
  { value: "60", label: "the last 60 days" },
  { value: "365", label: "the last year" },
] as const;
