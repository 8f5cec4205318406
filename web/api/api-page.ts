import { z } from "zod";
import { RIGHTS, type Right } from "../../core/access/access.ts";
import type { CallDefinition, Needs } from "../calls/define.ts";
import { CALLS } from "../calls/table.ts";

/** A call as people read it. */
interface CallShown {
  readonly id: string;
  readonly method: string;
  readonly path: string;
  readonly said: string;
  readonly needs: string;
  readonly query: readonly (readonly [string, string])[];
  readonly sent: string | null;
  readonly status: number;
  readonly answered: string;
}

/** Calls by what their path begins with. */
interface CallGroup {
  readonly name: string;
  readonly id: string;
  readonly calls: readonly CallShown[];
}

const NEEDS: Partial<Record<Needs, string>> = {
  anybody: "Anybody may make it.",
  "signed-in": "Anybody who works here, and any key.",
  "in-person": "Only somebody who has signed in themselves; no key.",
  rehearsal: "Only in rehearsal.",
};
const needsOf = (needs: Needs): string =>
  NEEDS[needs] ??
  `Needs the right to: ${(RIGHTS[needs as Right] ?? needs).replace(/^./, (c) => c.toLowerCase())}.`;

interface JsonSchema {
  readonly type?: string | readonly string[];
  readonly properties?: Readonly<Record<string, JsonSchema>>;
  readonly required?: readonly string[];
  readonly items?: JsonSchema;
  readonly additionalProperties?: JsonSchema | boolean;
  readonly anyOf?: readonly JsonSchema[];
  readonly oneOf?: readonly JsonSchema[];
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly description?: string;
  readonly format?: string;
  readonly $ref?: string;
  readonly $defs?: Readonly<Record<string, JsonSchema>>;
}
/** So deep and so much is shown: what is beyond is in the document for programs. */
const DEEPEST = 6;

/** A shape as one would write it down: names, kinds, `?` for what may be left out, and what they mean beside. */
function shapeOf(schema: JsonSchema, root: JsonSchema, indent = "", depth = 0): string {
  if (depth > DEEPEST) return "…";
  if (schema.$ref) {
    const named = root.$defs?.[schema.$ref.replace("#/$defs/", "")];
    return named ? shapeOf(named, root, indent, depth + 1) : "…";
  }
  const among = schema.anyOf ?? schema.oneOf;
  if (among) return among.map((one) => shapeOf(one, root, indent, depth + 1)).join(" or ");
  if (schema.const !== undefined) return JSON.stringify(schema.const);
  if (schema.enum) return schema.enum.map((value) => JSON.stringify(value)).join(" | ");
  if (schema.type === "array") return `[${shapeOf(schema.items ?? {}, root, indent, depth + 1)}, …]`;
  if (schema.properties) {
    const inner = `${indent}  `;
    const lines = Object.entries(schema.properties).map(([name, one]) => {
      const mark = schema.required?.includes(name) ? "" : "?";
      const about = one.description ? `  ${one.description}` : "";
      return `${inner}${name}${mark}: ${shapeOf(one, root, inner, depth + 1)}${about}`;
    });
    return `{\n${lines.join("\n")}\n${indent}}`;
  }
  if (schema.type === "object")
    return typeof schema.additionalProperties === "object"
      ? `{ name: ${shapeOf(schema.additionalProperties, root, indent, depth + 1)} }`
      : "{ … }";
  if (schema.format === "date-time") return "time";
  return [schema.type ?? "anything"].flat().join(" or ");
}

function shown(schema: z.ZodType, io: "input" | "output"): string {
  const json = z.toJSONSchema(schema, { target: "draft-2020-12", unrepresentable: "any", io }) as JsonSchema;
  return shapeOf(json, json);
}

const idOf = (text: string) =>
  text
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, "-")
    .replaceAll(/^-|-$/g, "");
let made: readonly CallGroup[] | null = null;

/** Every call, by what it is about; made once. */
export function apiPage(): readonly CallGroup[] {
  if (made) return made;
  const groups = new Map<string, CallShown[]>();
  for (const [key, call] of Object.entries<CallDefinition>(CALLS)) {
    const [method = "", pattern = ""] = key.split(" ");
    const path = pattern.replace(/\[(\w+)\]/g, "{$1}");
    const about = pattern.split("/")[1]!.split(".")[0]!;
    const { said, needs, query = {}, body, takes, status = 200, answer, gives } = call;
    groups.set(about, [
      ...(groups.get(about) ?? []),
      {
        id: idOf(key),
        method,
        path,
        said,
        needs: needsOf(needs),
        query: Object.entries(query),
        sent: body ? shown(body, "input") : takes ? `The bytes themselves, as ${takes}` : null,
        status,
        answered:
          status === 204 ? "Nothing" : gives ? `The file itself, as ${gives}` : shown(answer, "output"),
      },
    ]);
  }
  made = [...groups]
    .sort(([a], [b]) => a.localeCompare(b))
    .map(([name, calls]) => ({ name, id: idOf(`calls-${name}`), calls }));
  return made;
}
