import { z } from "zod";
import { ANSWERING_OPERATIONS } from "./openapi-answering.ts";
import { BELLS_OPERATIONS } from "./openapi-bells.ts";
import { ROUTING_OPERATIONS } from "./openapi-routing.ts";
import { SETUP_OPERATIONS } from "./openapi-setup.ts";
import type { Operation } from "./operation.ts";
import * as wire from "./schemas.ts";
import { Entry } from "./setup-schemas.ts";

const page = { limit: "How many at most", cursor: "`next` of the page before" };
const refusals = {
  401: "Not signed in",
  403: "Not theirs to do",
  404: "Not found",
  409: "Not as things stand",
  422: "Something is missing or wrong",
};

const OPERATIONS: readonly Operation[] = [
  {
    method: "get",
    path: "/health",
    summary: "Whether the desk is ready",
    answer: z.object({ ok: z.literal(true) }),
  },
  {
    method: "post",
    path: "/intake/{sourceKey}",
    summary:
      "Hand in an inquiry: JSON, form-encoded, multipart, ADF/XML or a contact card; signed by Standard Webhooks where the source has a secret",
    body: z.record(z.string(), z.unknown()),
    status: 202,
    answer: wire.Receipt,
  },
  {
    method: "get",
    path: "/leads",
    summary: "Find leads",
    query: {
      ...page,
      q: "Any piece of a name, company, number or address",
      filter: "open, waiting, rung, answered, listed or closed",
      sort: "recent or created",
      owner: "Only leads this person has or is offered",
    },
    answer: wire.listOf(wire.Lead),
  },
  {
    method: "post",
    path: "/leads",
    summary: "Write down an inquiry by hand",
    body: Entry,
    status: 201,
    answer: wire.Lead,
  },
  { method: "get", path: "/leads/{id}", summary: "One lead", answer: wire.Lead },
  {
    method: "get",
    path: "/leads/{id}/events",
    summary: "Everything that happened to a lead",
    query: page,
    answer: wire.listOf(wire.Event),
  },
  { method: "get", path: "/leads/{id}/sheet", summary: "A lead as the desk shows it", answer: wire.Sheet },
  {
    method: "post",
    path: "/leads/{id}/take",
    summary: "Take a lead; 409 names who has it when too late",
    body: wire.Take,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/pass",
    summary: "Pass a lead on, with a reason",
    body: wire.Pass,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/give",
    summary: "Move a lead to a person or a group",
    body: wire.Give,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/tries",
    summary: "Log a human try and its outcome",
    body: wire.Try,
    status: 201,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/messages",
    summary: "Write to a lead; counts as a try",
    body: wire.Message,
    status: 201,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/notes",
    summary: "Write a note for colleagues",
    body: wire.Note,
    status: 201,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/next-step",
    summary: "Put the next step at a time",
    body: wire.Step,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/close",
    summary: "Close a lead with a reason",
    body: wire.Close,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/undo",
    summary: "Take back the last act on a lead",
    body: wire.Undo,
    answer: wire.Lead,
  },
  {
    method: "get",
    path: "/queue",
    summary: "The day's work in its bands",
    query: { limit: page.limit, later: "Also the leads of the band *later*" },
    answer: wire.Queue,
  },
  {
    method: "get",
    path: "/people",
    summary: "Who works here, and who is on duty",
    answer: wire.listOf(wire.Person),
  },
  {
    method: "get",
    path: "/groups",
    summary: "Groups a lead can be handed to",
    answer: wire.listOf(wire.Group),
  },
  { method: "get", path: "/sources", summary: "Where inquiries come from", answer: wire.listOf(wire.Source) },
  {
    method: "get",
    path: "/outcomes",
    summary: "What a try can come to, and the next step each sets",
    answer: wire.listOf(wire.Outcome),
  },
  { method: "get", path: "/me", summary: "Who is asking", answer: wire.Me },
  {
    method: "get",
    path: "/quarantine",
    summary: "Inquiries that could not be understood",
    answer: wire.listOf(wire.Quarantined),
  },
  { method: "post", path: "/quarantine/{id}/replay", summary: "Try an inquiry again", answer: wire.Replayed },
  {
    method: "post",
    path: "/messages/{id}/resend",
    summary: "Put a message that failed for good back in line",
    answer: z.object({ queued: z.literal(true) }),
  },
  { method: "get", path: "/rehearsal/clock", summary: "Rehearsal: what time it is", answer: wire.Clock },
  {
    method: "post",
    path: "/rehearsal/clock",
    summary: "Rehearsal: move time; answers when all due work is done",
    body: wire.MoveClock,
    answer: wire.Moved,
  },
  {
    method: "get",
    path: "/rehearsal/down",
    summary: "Rehearsal: parts of the world outside that are down",
    answer: wire.Downs,
  },
  {
    method: "post",
    path: "/rehearsal/down",
    summary: "Rehearsal: take a part of the world outside down, or bring it back",
    body: wire.SetDown,
    answer: wire.Downs,
  },
  {
    method: "post",
    path: "/rehearsal/begin",
    summary: "Rehearsal: throw everything away and begin again",
    body: wire.Begin,
    answer: wire.Begun,
  },
  {
    method: "get",
    path: "/rehearsal/outside",
    summary: "Rehearsal: what the outside has received",
    query: { channel: "text, email, chat or call", since: "ISO 8601" },
    answer: wire.listOf(wire.Outside),
  },
  {
    method: "post",
    path: "/faults",
    summary: "Write into the log that something broke in a browser",
    body: wire.Fault,
    answer: wire.Noted,
  },
  {
    method: "post",
    path: "/rehearsal/text",
    summary: "Rehearsal: the lead texts",
    body: wire.TextIn,
    answer: z.object({ leadId: z.string().nullable() }),
  },
  {
    method: "post",
    path: "/rehearsal/ad-form",
    summary: "Rehearsal: somebody fills in an ad form",
    body: wire.AdFormIn,
    status: 202,
    answer: wire.Receipt,
  },
];

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

/** The OpenAPI 3.0 document. */
export function openApi(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const { method, path, summary, body, status = 200, answer, query = {} } of [
    ...OPERATIONS,
    ...SETUP_OPERATIONS,
    ...ANSWERING_OPERATIONS,
    ...ROUTING_OPERATIONS,
    ...BELLS_OPERATIONS,
  ]) {
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
    const problems = Object.entries(refusals).map(([code, description]) => [
      code,
      { description, ...content(wire.Problem, "application/problem+json") },
    ]);
    paths[path] = {
      ...paths[path],
      [method]: {
        summary,
        parameters: [...inPath, ...inQuery],
        ...(body && { requestBody: { required: true, ...content(body) } }),
        responses: {
          [status]: { description: summary, ...content(answer) },
          ...Object.fromEntries(problems),
        },
      },
    };
  }
  paths["/live"] = {
    get: {
      summary: "Server-sent events of what changes; resumes by Last-Event-ID",
      responses: { 200: { description: "A stream", content: { "text/event-stream": {} } } },
    },
  };
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
