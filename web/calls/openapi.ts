import { z } from "zod";
import { Problem } from "../wire/schemas.ts";
import { type CallDefinition, FILE } from "./define.ts";
import { CALLS } from "./table.ts";

const REFUSALS = {
  401: "Not signed in",
  403: "Not theirs to do",
  404: "Not found",
  409: "Not as things stand",
  422: "Something is missing or wrong",
  429: "More calls than a key may make: wait as long as Retry-After says",
};

/** What schemas refer to: they stand once in the document, and not beside each that names them. */
const components: Record<string, unknown> = {};

function schemaOf(schema: z.ZodType): object {
  const json = z.toJSONSchema(schema, { target: "draft-2020-12", unrepresentable: "any" });
  const moved = JSON.stringify(json).replaceAll('"#/$defs/', '"#/components/schemas/');
  const {
    $defs,
    $schema: _,
    ...own
  } = JSON.parse(moved) as { $defs?: Record<string, unknown>; $schema?: string };
  Object.assign(components, $defs);
  return own;
}

const content = (schema: z.ZodType, type = "application/json") => ({
  content: { [type]: { schema: schemaOf(schema) } },
});

/** A writing call sent again under the same key is done once. */
const ONCE = {
  name: "Idempotency-Key",
  in: "header",
  description: "The same key with the same body gets the first answer; with another body it is refused",
  schema: { type: "string", maxLength: 200 },
};

/** `postLeadsByIdTake` of `POST /leads/{id}/take`: what programs call it by. */
const operationId = (method: string, path: string): string =>
  method +
  path
    .split("/")
    .filter(Boolean)
    .map((part) => {
      const [, name] = /^\{(\w+)\}$/.exec(part) ?? [];
      const word = (name ?? part).replaceAll(/[^A-Za-z0-9]+(\w)?/g, (_, next: string = "") =>
        next.toUpperCase(),
      );
      return (name ? "By" : "") + word.charAt(0).toUpperCase() + word.slice(1);
    })
    .join("");

/** One call as the document tells it. */
function operationOf(method: string, path: string, call: CallDefinition): object {
  const { needs, said, body, takes, query = {}, status = 200, answer, gives } = call;
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: "path",
    required: true,
    schema: { type: "string" },
  }));
  const inQuery = Object.entries(query).map(([name, description]) => ({
    name,
    in: "query",
    description,
    schema: { type: "string" },
  }));
  const problems = Object.entries(REFUSALS).map(([code, description]) => [
    code,
    { description, ...content(Problem, "application/problem+json") },
  ]);
  const sent = body ?? (takes ? FILE : null);
  return {
    summary: said,
    operationId: operationId(method, path),
    ...(needs === "anybody" && { security: [] }),
    parameters: [...inPath, ...inQuery, ...(method === "post" && body ? [ONCE] : [])],
    ...(sent && { requestBody: { required: true, ...content(sent, takes) } }),
    responses: {
      [status]: { description: said, ...(status !== 204 && content(answer, gives)) },
      ...Object.fromEntries(problems),
    },
  };
}

/** The OpenAPI 3.1 document. */
export function openApi(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const [key, call] of Object.entries<CallDefinition>(CALLS)) {
    const [method, pattern] = key.split(" ") as [string, string];
    const path = pattern.replace(/\[(\w+)\]/g, "{$1}");
    paths[path] = { ...paths[path], [method.toLowerCase()]: operationOf(method.toLowerCase(), path, call) };
  }
  return {
    openapi: "3.1.0",
    info: {
      title: "Kite Bell",
      version: "1",
      description: "The inbound lead desk. Errors are RFC 9457 problem documents.",
    },
    servers: [{ url: "/api/v1" }],
    security: [{ key: [] }],
    components: { schemas: components, securitySchemes: { key: { type: "http", scheme: "bearer" } } },
    paths,
  };
}
