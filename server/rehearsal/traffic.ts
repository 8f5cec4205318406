/** How live traffic stands. */
export interface TrafficState {
  /** So many inquiries come in a minute, in the middle; 0 while it is off. */
  readonly perMinute: number;
  readonly arrived: number;
  readonly took: number;
  readonly passed: number;
  readonly forgot: number;
  readonly called: number;
  readonly wroteBack: number;
}

/** Live traffic of a rehearsal: played by whoever made its company up. */
export interface Traffic {
  readonly state: TrafficState;
  set(perMinute: number): void;
  stop(): void;
}

/** By what traffic reaches the desk: as the world outside does. */
export interface World {
  /** Somebody inquires by a source, with what it delivers. */
  send(sourceKey: string, fields: Readonly<Record<string, unknown>>): Promise<void>;
  /** A lead texts back. */
  text(from: string, body: string): Promise<void>;
}
