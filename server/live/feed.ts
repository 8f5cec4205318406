/** One change that browsers should know of. `n` is the number of its last event; `leadId` null means more than one lead. */
export interface Change {
  readonly n: number;
  readonly leadId: string | null;
  readonly kinds: readonly string[];
  /** Who of ours picked up the call it is about. */
  readonly personId?: string;
  /** Who was told of what by it. */
  readonly told?: readonly { readonly personId: string; readonly about: string }[];
}

/** A session ended, a key was revoked or a role changed: whoever listens must show again that they may. */
export const ACCESS_CHANGED: Change = { n: 0, leadId: null, kinds: ["access"] };

type Listener = (change: Change) => void;

/** Told to browsers when the desk they look at is gone and another has begun in its place. */
export const BEGUN_AGAIN: Change = { n: 0, leadId: null, kinds: ["begun-again"] };

/** Tells whoever listens what has been committed. The events table is its memory. */
export class Feed {
  readonly #listeners = new Set<Listener>();

  publish(change: Change): void {
    for (const listener of this.#listeners) listener(change);
  }

  /** Listen until the returned function is called. */
  listen(listener: Listener): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }
}
