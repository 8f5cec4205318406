/** Bodies made from a schema and spoiled here and there, the same again for the same seed. */

type Json = unknown;
export interface Schema {
  readonly $ref?: string;
  readonly type?: string;
  readonly enum?: readonly Json[];
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly required?: readonly string[];
  readonly additionalProperties?: boolean | Schema;
  readonly items?: Schema;
  readonly format?: string;
}

/** Numbers from 0 to 1 that look like chance (mulberry32, public domain; value from memory). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const TEXTS = [
  "",
  " ",
  "a",
  "Ana Ruiz",
  "ana@example.com",
  "303 555 0111",
  "../../etc/passwd",
  "\u0000",
  "\ud800",
  "'; drop table leads; --",
  "{{ lead.name | nothing }}",
  "<script>alert(1)</script>",
  "=1+1",
  "__proto__",
  "constructor",
  "25:00",
  "24:00",
  "08:00",
  "Mars/Olympus",
  "America/Denver",
  "é".repeat(300),
  "x".repeat(2_000),
  "%00%0a",
  "NaN",
];
const TIMES = [
  "2026-03-04T16:00:00Z",
  "2026-03-04T16:00:00+14:00",
  "275760-09-13T00:00:00Z",
  "+275760-09-13T00:00:00Z",
  "9999-12-31T23:59:59Z",
  "0000-01-01T00:00:00Z",
  "2026-02-30T00:00:00Z",
  "2026-03-08T02:30:00-07:00",
  "soon",
];
const NUMBERS = [0, 1, -1, 2, 5, 1.5, 60, 1_000, 1e9, 1e12, 1e308, -1e308, Number.MAX_SAFE_INTEGER, 5e-324];
const ODD: readonly Json[] = [
  null,
  true,
  false,
  [],
  {},
  [[]],
  { a: { b: { c: 1 } } },
  0,
  "",
  "x",
  [null],
  { length: 3 },
];

export class Fuzz {
  readonly #chance: () => number;
  readonly #schemas: Readonly<Record<string, Schema>>;
  /** Ids and words of the desk itself, so that what is made often names something. */
  readonly #known: readonly string[];

  constructor(seed: number, schemas: Readonly<Record<string, Schema>>, known: readonly string[]) {
    this.#chance = seeded(seed);
    this.#schemas = schemas;
    this.#known = known;
  }

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.#chance() * list.length)]!;
  }

  may(share: number): boolean {
    return this.#chance() < share;
  }

  text(): string {
    return this.may(0.5) && this.#known.length > 0 ? this.pick(this.#known) : this.pick(TEXTS);
  }

  /** Something by the schema, or almost. */
  body(schema: Schema, depth = 0): Json {
    if (this.may(0.06)) return this.pick(ODD);
    if (this.may(0.004)) return nested(this.pick([10, 100, 2_000]));
    if (schema.$ref)
      return depth > 7 ? null : this.body(this.#schemas[schema.$ref.split("/").at(-1)!] ?? {}, depth + 1);
    const choices = schema.anyOf ?? schema.oneOf;
    if (choices) return this.body(this.pick(choices), depth + 1);
    if (schema.allOf) return Object.assign({}, ...schema.allOf.map((s) => this.body(s, depth + 1)));
    if (schema.enum) return this.may(0.9) ? this.pick(schema.enum) : this.text();
    switch (schema.type) {
      case "object":
        return this.#object(schema, depth);
      case "array": {
        const most = depth > 6 ? 0 : this.may(0.02) ? 600 : 3;
        const many = Math.floor(this.#chance() * (most + 1));
        return Array.from({ length: many }, () => this.body(schema.items ?? {}, depth + 1));
      }
      case "number":
      case "integer":
        return this.pick(NUMBERS);
      case "boolean":
        return this.may(0.5);
      case "string":
        return schema.format === "date-time" ? this.pick(TIMES) : this.text();
      default:
        return this.pick(ODD);
    }
  }

  #object({ properties = {}, required = [], additionalProperties }: Schema, depth: number): Json {
    const out: [string, Json][] = [];
    for (const [name, schema] of Object.entries(properties)) {
      if (this.may(required.includes(name) ? 0.97 : 0.5)) out.push([name, this.body(schema, depth + 1)]);
    }
    if (additionalProperties && typeof additionalProperties === "object")
      for (let i = 0; i < 2; i++) out.push([this.text(), this.body(additionalProperties, depth + 1)]);
    if (this.may(0.05))
      out.push([this.pick(["__proto__", "constructor", "toString", "extra"]), this.pick(ODD)]);
    return Object.fromEntries(out);
  }
}

function nested(depth: number): Json {
  let value: Json = { field: "message", is: "known" };
  for (let i = 0; i < depth; i++) value = { all: [value] };
  return value;
}
