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
};

/** What schemas refer to: they stand once in the document, and not beside each that names them. */
const components: Record<string, unknown> = {};

function schemaOf(schema: z.ZodType): object {
  const json = z.toJSONSchema(schema, { target: "openapi-3.0", unrepresentable: "any" });
  const moved = JSON.stringify(json).replaceAll('"#/definitions/', '"#/components/schemas/');
  const { definitions, ...own } = JSON.parse(moved) as { definitions?: Record<string, unknown> };
  Object.assign(components, definitions);
  return own;
}

const content = (schema: z.ZodType, type = "application/json") => ({
  content: { [type]: { schema: schemaOf(schema) } },
});

/** One call as the document tells it. */
function operationOf(path: string, call: CallDefinition): object {
  const { said, body, takes, query = {}, status = 200, answer, gives } = call;
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
    parameters: [...inPath, ...inQuery],
    ...(sent && { requestBody: { required: true, ...content(sent, takes) } }),
    responses: {
      [status]: { description: said, ...(status !== 204 && content(answer, gives)) },
      ...Object.fromEntries(problems),
    },
  };
}

/** The OpenAPI 3.0 document. */
export function openApi(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const [key, call] of Object.entries<CallDefinition>(CALLS)) {
    const [method, pattern] = key.split(" ") as [string, string];
    const path = pattern.replace(/\[(\w+)\]/g, "{$1}");
    paths[path] = { ...paths[path], [method.toLowerCase()]: operationOf(path, call) };
  }
  return {
    openapi: "3.0.3",
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
