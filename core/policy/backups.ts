import type { KeepPattern } from "../backup/keep.ts";

/** When the desk backs itself up, and how many of its backups it keeps. */
export interface BackupPolicy {
  readonly on: boolean;
  /** A time of the desk's day, `02:30`. */
  readonly time: string;
  readonly keep: KeepPattern;
  /** Where sealed ones are copied besides: a folder of a bucket that speaks S3's protocol. The secret of its key is kept sealed, apart. */
  readonly away?: BackupsAway | null;
}

/** A bucket as it is written down, and with whose key. */
export interface BackupsAway {
  /** `https://s3.example.com/bucket/folder`. */
  readonly url: string;
  readonly region: string;
  readonly keyId: string;
}

/** Every night: 7 days, 4 weeks and 12 months back, as is common practice. */
export const USUAL_BACKUPS: BackupPolicy = {
  on: true,
  time: "02:30",
  keep: { daily: 7, weekly: 4, monthly: 12 },
};
