import { createHash, createHmac, timingSafeEqual } from "node:crypto";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";

/**
 * A stand-in for a bucket that speaks S3's protocol, as much of it as backups need: list, write whole or in parts, read, take away. Signatures
 * are reckoned here by the published steps of “Signature Version 4” (HMAC-SHA256 over date, region, service and request; value from memory).
 */

export interface StandinBucket {
  /** Of the server; a bucket is the first part of a path behind it. */
  readonly url: string;
  /** What lies there, by its whole name: `bucket/key`. */
  readonly objects: Map<string, Buffer>;
  /** How it misbehaves just now. */
  fault: "none" | "down" | "full" | "silent" | "flips";
  /** Every call it has been asked, as `PUT bucket/key`. */
  readonly asked: string[];
  close(): Promise<void>;
}

/** With which it is used. */
export const BUCKET_KEY = { keyId: "rehearsal", secret: "rehearsal-secret" };
/** So many names come on one page of a list: few, so that more than one is asked for. */
const ON_A_PAGE = 5;

const hmac = (key: string | Buffer, text: string) => createHmac("sha256", key).update(text).digest();
const sha256 = (of: string | Buffer) => createHash("sha256").update(of).digest("hex");
/** As the protocol writes names: every octet but letters, digits and `-_.~`. */
const escaped = (text: string) =>
  encodeURIComponent(text).replace(/[!'()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);

/** The signature a request must carry. Source: the published steps (canonical request, string to sign, derived key). */
export function signatureOf(
  secret: string,
  {
    method,
    path,
    query,
    headers,
    signed,
    bodySum,
    scope,
    at,
  }: {
    method: string;
    /** As it stands in the request. */
    path: string;
    query: URLSearchParams;
    headers: Readonly<Record<string, string>>;
    signed: readonly string[];
    bodySum: string;
    /** `date/region/service/aws4_request`. */
    scope: string;
    at: string;
  },
): string {
  const asked = [...query]
    .map(([k, v]) => `${escaped(k)}=${escaped(v)}`)
    .sort()
    .join("&");
  const said = signed.map((name) => `${name}:${(headers[name] ?? "").trim().replace(/ +/g, " ")}\n`).join("");
  const canonical = [method, path, asked, said, signed.join(";"), bodySum].join("\n");
  const [date = "", region = "", service = "", end = ""] = scope.split("/");
  const key = [region, service, end].reduce((k, part) => hmac(k, part), hmac(`AWS4${secret}`, date));
  return hmac(key, ["AWS4-HMAC-SHA256", at, scope, sha256(canonical)].join("\n")).toString("hex");
}

/** Whether somebody who knows the secret has sent this, body and all. */
function isSigned(request: IncomingMessage, url: URL, body: Buffer): boolean {
  const {
    authorization = "",
    "x-amz-date": at = "",
    "x-amz-content-sha256": bodySum = "",
  } = request.headers as Record<string, string>;
  // `AWS4-HMAC-SHA256 Credential=KEY/SCOPE, SignedHeaders=A;B, Signature=HEX`
  const [, ...said] = authorization.split(/[ ,]/).filter(Boolean);
  const part = (name: string) => said.find((one) => one.startsWith(`${name}=`))?.slice(name.length + 1) ?? "";
  const [keyId = "", ...scope] = part("Credential").split("/");
  const given = Buffer.from(part("Signature"), "hex");
  if (keyId !== BUCKET_KEY.keyId || given.length !== 32) return false;
  if (bodySum !== "UNSIGNED-PAYLOAD" && bodySum !== sha256(body)) return false;
  const wanted = signatureOf(BUCKET_KEY.secret, {
    method: request.method ?? "",
    path: url.pathname,
    query: url.searchParams,
    headers: request.headers as Record<string, string>,
    signed: part("SignedHeaders").split(";"),
    bodySum,
    scope: scope.join("/"),
    at,
  });
  return timingSafeEqual(Buffer.from(wanted, "hex"), given);
}

const xml = (text: string) =>
  text.replace(/[<>&"]/g, (c) => ({ "<": "&lt;", ">": "&gt;", "&": "&amp;", '"': "&quot;" })[c]!);

/** Start it on any free port of the loopback. Its key is `rehearsal`, with the secret `rehearsal-secret`. */
export async function startBucket(): Promise<StandinBucket> {
  const objects = new Map<string, Buffer>();
  const parts = new Map<string, Map<number, Buffer>>();
  let n = 0;
  const refuse = (response: ServerResponse, status: number, code: string) =>
    response
      .writeHead(status, { "content-type": "application/xml" })
      .end(`<?xml version="1.0"?><Error><Code>${code}</Code><Message>${code}</Message></Error>`);
  const says = (response: ServerResponse, body: string) =>
    response.writeHead(200, { "content-type": "application/xml" }).end(`<?xml version="1.0"?>${body}`);

  const server = createServer(async (request, response) => {
    const chunks: Buffer[] = [];
    for await (const chunk of request) chunks.push(chunk as Buffer);
    const body = Buffer.concat(chunks);
    const url = new URL(request.url ?? "/", "http://bucket");
    const name = decodeURIComponent(url.pathname.slice(1));
    const { method } = request;
    const query = url.searchParams;
    standin.asked.push(`${method} ${name}`);
    if (standin.fault === "silent") return;
    if (standin.fault === "down") return void response.socket?.destroy();
    if (!isSigned(request, url, body)) return void refuse(response, 403, "SignatureDoesNotMatch");
    const [bucket = ""] = name.split("/");
    if (method === "GET" && query.get("list-type") === "2") {
      const from = query.get("continuation-token") ?? "";
      const prefix = `${bucket}/${query.get("prefix") ?? ""}`;
      const all = [...objects.keys()].filter((key) => key.startsWith(prefix)).sort();
      const page = all.filter((key) => key > from).slice(0, ON_A_PAGE);
      const isLast = all.at(-1) === page.at(-1);
      const contents = page.map(
        (key) =>
          `<Contents><Key>${xml(key.slice(bucket.length + 1))}</Key><Size>${objects.get(key)!.length}</Size></Contents>`,
      );
      const next = isLast ? "" : `<NextContinuationToken>${xml(page.at(-1)!)}</NextContinuationToken>`;
      return void says(
        response,
        `<ListBucketResult><IsTruncated>${!isLast}</IsTruncated>${next}${contents.join("")}</ListBucketResult>`,
      );
    }
    if (method === "GET") {
      const found = objects.get(name);
      if (!found) return void refuse(response, 404, "NoSuchKey");
      const sent = Buffer.from(found);
      if (standin.fault === "flips" && sent.length > 0) sent[sent.length >> 1]! ^= 1;
      return void response.writeHead(200, { "content-length": sent.length }).end(sent);
    }
    if (method === "DELETE") {
      // Also of parts that never became anything.
      parts.delete(query.get("uploadId") ?? "");
      objects.delete(name);
      return void response.writeHead(204).end();
    }
    if (standin.fault === "full") return void refuse(response, 507, "NoRoom");
    if (method === "POST" && query.has("uploads")) {
      const id = `upload-${++n}`;
      parts.set(id, new Map());
      return void says(
        response,
        `<InitiateMultipartUploadResult><UploadId>${id}</UploadId></InitiateMultipartUploadResult>`,
      );
    }
    const upload = parts.get(query.get("uploadId") ?? "");
    if (method === "PUT" && upload) upload.set(Number(query.get("partNumber")), body);
    else if (method === "POST" && upload) {
      const inOrder = [...upload].sort(([a], [b]) => a - b).map(([, part]) => part);
      objects.set(name, Buffer.concat(inOrder));
      parts.delete(query.get("uploadId")!);
      return void says(
        response,
        `<CompleteMultipartUploadResult><ETag>"${n}"</ETag></CompleteMultipartUploadResult>`,
      );
    } else if (method === "PUT") objects.set(name, body);
    else return void refuse(response, 405, "MethodNotAllowed");
    response.writeHead(200, { etag: `"${sha256(body).slice(0, 32)}"` }).end();
  });
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", ready));
  const { port } = server.address() as AddressInfo;
  const standin: StandinBucket = {
    url: `http://127.0.0.1:${port}`,
    objects,
    fault: "none",
    asked: [],
    close: async () => {
      server.closeAllConnections();
      await new Promise<void>((done) => server.close(() => done()));
    },
  };
  return standin;
}
