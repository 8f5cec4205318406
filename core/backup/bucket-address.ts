/** A folder in a bucket of a server that speaks S3's protocol. */
export interface BucketAddress {
  /** Where the server is, such as `https://s3.example.com`. */
  readonly origin: string;
  readonly bucket: string;
  /** The start of every name in it: empty, or with a `/` at its end. */
  readonly folder: string;
  readonly region: string;
}

/** Where none is given, as servers of one's own usually take any (common practice). */
export const USUAL_REGION = "us-east-1";

/** Names of buckets: 3 to 63 small letters, digits, dots and hyphens (the protocol's own rule; value from memory). */
const BUCKET = /^[a-z0-9][a-z0-9.-]{1,61}[a-z0-9]$/;
const FOLDER = /^[\w.\-/ ]*$/;

/** Read `https://s3.example.com/bucket/folder`; a sentence when it is none. Never throws. */
export function readBucketAddress(
  written: string,
  region = USUAL_REGION,
): BucketAddress | { readonly wrong: string } {
  const such = "Write it as https://s3.example.com/bucket, or with a folder behind it.";
  if (!URL.canParse(written)) return { wrong: such };
  const { protocol, origin, pathname, search, hash, username, password } = new URL(written);
  if (protocol !== "https:" && protocol !== "http:") return { wrong: such };
  if (username || password) return { wrong: "The key and its secret have fields of their own." };
  if (search || hash) return { wrong: such };
  const [bucket = "", ...rest] = pathname.split("/").filter(Boolean);
  if (!BUCKET.test(bucket))
    return { wrong: bucket ? `“${bucket}” can't be the name of a bucket.` : `Which bucket? ${such}` };
  const folder = decodeURIComponentSafely(rest.join("/"));
  if (folder === null || !FOLDER.test(folder))
    return { wrong: "A folder has letters, digits, spaces, dots, hyphens and slashes alone." };
  return { origin, bucket, folder: folder && `${folder}/`, region: region.trim() || USUAL_REGION };
}

function decodeURIComponentSafely(written: string): string | null {
  try {
    return decodeURIComponent(written);
  } catch {
    return null;
  }
}
