import type { SpanAsked } from "../../live/figure-queries.ts";

/** A page of figures: what it is told of, and how one asks which leads a figure counts. */
export interface PageProps {
  readonly span: SpanAsked;
  readonly onBehind: (
    part: string,
    what: string,
    under?: { readonly by: string; readonly key: string | null },
  ) => void;
}
