import { createReadStream, statSync } from "node:fs";
import type { Readable } from "node:stream";
import { DeleteObjectCommand, GetObjectCommand, paginateListObjectsV2, S3Client } from "@aws-sdk/client-s3";
import { Upload } from "@aws-sdk/lib-storage";
import type { BucketAddress } from "../../core/backup/bucket-address.ts";
import { BadBackup } from "./sealed-file.ts";

/** Who may use a bucket. */
export interface BucketKey {
  readonly keyId: string;
  readonly secret: string;
}

/** Nobody answers within this, or goes silent for as long (ms). */
const CONNECTS_WITHIN = 10_000;
const SILENT_FOR = 60_000;
const TRIES = 3;
/** A file goes in parts of this size (bytes), of which there may be 10,000 (a limit of the protocol; value from memory). */
const PART = 8 * 2 ** 20;
const MOST_PARTS = 9_000;

/** A folder of a bucket on a server that speaks S3's protocol. Every call throws {@link BadBackup}, in words, where it fails; what breaks off while it is read throws as streams do. */
export class Bucket {
  readonly #client: S3Client;
  readonly #address: BucketAddress;

  constructor(address: BucketAddress, { keyId, secret }: BucketKey) {
    this.#address = address;
    // It would tell whoever reads the log of a newer Node.js that later versions of it ask for; this one is content.
    process.env.AWS_SDK_JS_NODE_VERSION_SUPPORT_WARNING_DISABLED = "true";
    this.#client = new S3Client({
      endpoint: address.origin,
      region: address.region,
      forcePathStyle: true,
      credentials: { accessKeyId: keyId, secretAccessKey: secret },
      maxAttempts: TRIES,
      // Newer sums of the protocol are not known everywhere; what was written is read again and compared instead.
      requestChecksumCalculation: "WHEN_REQUIRED",
      responseChecksumValidation: "WHEN_REQUIRED",
      requestHandler: { connectionTimeout: CONNECTS_WITHIN, socketTimeout: SILENT_FOR },
    });
  }

  close(): void {
    this.#client.destroy();
  }

  #at(name: string) {
    return { Bucket: this.#address.bucket, Key: this.#address.folder + name };
  }

  /** Everything in the folder: its names, and how large each is (bytes). */
  async all(): Promise<ReadonlyMap<string, number>> {
    return this.#told("list what is there", async () => {
      const { bucket, folder } = this.#address;
      const found = new Map<string, number>();
      for await (const page of paginateListObjectsV2(
        { client: this.#client },
        { Bucket: bucket, Prefix: folder },
      ))
        for (const { Key = "", Size = 0 } of page.Contents ?? []) found.set(Key.slice(folder.length), Size);
      return found;
    });
  }

  /** Put a file there under a name; what was under it before is replaced once all has arrived. */
  async put(name: string, path: string): Promise<void> {
    const partSize = Math.max(PART, Math.ceil(statSync(path).size / MOST_PARTS));
    await this.#told(`write ${name}`, () =>
      new Upload({
        client: this.#client,
        params: { ...this.#at(name), Body: createReadStream(path) },
        partSize,
      }).done(),
    );
  }

  /** What lies there under a name. */
  async read(name: string): Promise<Readable> {
    return this.#told(`read ${name}`, async () => {
      const { Body } = await this.#client.send(new GetObjectCommand(this.#at(name)));
      return Body as Readable;
    });
  }

  async drop(name: string): Promise<void> {
    await this.#told(`take ${name} away`, () => this.#client.send(new DeleteObjectCommand(this.#at(name))));
  }

  async #told<T>(what: string, does: () => Promise<T>): Promise<T> {
    try {
      return await does();
    } catch (error) {
      const { origin, bucket } = this.#address;
      const { name, message, code } = error as Error & { code?: string };
      // A refused connection says it in its code alone.
      const said = [...new Set([code ?? name, message])].filter(Boolean).join(": ");
      throw new BadBackup(`${origin} did not let us ${what} in the bucket “${bucket}”: ${said}`, {
        cause: error,
      });
    }
  }
}
