import Decimal from "decimal.js";
import jsep, { type CoreExpression, type Expression } from "jsep";

/**
 * Formulas in plain arithmetic: numbers as decimals, percentages, the names of inputs and lines, comparisons and a few
 * functions. jsep reads them; nothing of them is ever run as code.
 */

/** How long a formula may be (characters). */
export const LONGEST = 500;
/** How large an amount may become: beyond it something is wrong with the formula. */
const LARGEST = new Decimal("1e15");

const D = Decimal.clone({ precision: 34, rounding: Decimal.ROUND_HALF_UP, toExpNeg: -40, toExpPos: 40 });

export type Value = { readonly ok: true; readonly value: Decimal } | Wrong;
export interface Wrong {
  readonly ok: false;
  readonly message: string;
  /** Where in the text, counting from 0. */
  readonly at: number;
}

export type Parsed =
  | { readonly ok: true; readonly names: readonly string[]; readonly tree: Expression }
  | Wrong;

const FUNCTIONS: Readonly<Record<string, { readonly least: number; readonly most: number }>> = {
  min: { least: 1, most: 20 },
  max: { least: 1, most: 20 },
  round: { least: 1, most: 2 },
  up: { least: 1, most: 2 },
  down: { least: 1, most: 2 },
  abs: { least: 1, most: 1 },
  if: { least: 3, most: 3 },
};
/** The functions a formula may call, for whoever writes one. */
export const FUNCTION_NAMES: readonly string[] = Object.keys(FUNCTIONS);

interface Percent extends Expression {
  readonly type: "Percent";
  readonly argument: Expression;
}

const PERCENT = 37;
/** Thrown by our own reader's parts, caught in {@link parse} and {@link reckon}. */
class Fault extends Error {
  constructor(
    message: string,
    readonly at: number,
  ) {
    super(message);
  }
}

const reader = prepared();

/** jsep for this language alone: no members, no lists, no bit operators; `%` after a number is a percentage. */
function prepared(): typeof jsep {
  for (const op of ["|", "^", "&", "<<", ">>", ">>>", "%", "??", "===", "!==", "==", "!=", "||", "&&"])
    jsep.removeBinaryOp(op);
  for (const op of ["~", "!"]) jsep.removeUnaryOp(op);
  jsep.addBinaryOp("=", 6);
  jsep.addBinaryOp("<>", 6);
  jsep.addBinaryOp("×", 10);
  jsep.addBinaryOp("÷", 10);
  jsep.addBinaryOp("−", 9);
  jsep.addUnaryOp("−");
  jsep.addBinaryOp("and", 2);
  jsep.addBinaryOp("or", 1);
  jsep.removeAllLiterals();
  // A number is read like any other token, so that what stands after it is looked at too.
  jsep.hooks.add("gobble-token", function (env) {
    if (/[\d.]/.test(this.char)) env.node = this.gobbleNumericLiteral();
  });
  jsep.hooks.add("after-token", function (env) {
    this.gobbleSpaces();
    while (env.node && this.code === PERCENT) {
      this.index++;
      env.node = { type: "Percent", argument: env.node } as Percent;
      this.gobbleSpaces();
    }
  });
  return jsep;
}

/** Read a formula. Any text gives a tree or what is wrong and where; never throws. */
export function parse(text: string): Parsed {
  if (text.length > LONGEST) return wrong(`A formula has ${LONGEST} characters at most.`, LONGEST);
  if (!text.trim()) return wrong("Write a formula.", 0);
  try {
    const tree = reader(text);
    const names = new Set<string>();
    inspect(tree, text, names);
    return { ok: true, names: [...names], tree };
  } catch (error) {
    return faultOf(error, text);
  }
}

const wrong = (message: string, at: number): Wrong => ({ ok: false, message, at });

function faultOf(error: unknown, text: string): Wrong {
  if (error instanceof Fault) return wrong(error.message, error.at);
  if (error instanceof RangeError) return wrong("It is nested too deep.", 0);
  const { index, description } = error as { index?: number; description?: string };
  const at = Math.min(index ?? text.length, text.length);
  const found = text.slice(at, at + 12).trim();
  if (description === undefined && index === undefined) return wrong("It can’t be read.", 0);
  return wrong(found ? `It can’t be read from “${found}” on.` : "Something is missing at the end.", at);
}

const placeOf = (text: string, name: string) => Math.max(0, text.indexOf(name));

/** What may stand in a formula: all else is refused before anything is reckoned. */
function inspect(node: Expression, text: string, names: Set<string>): void {
  const one = node as CoreExpression | Percent;
  switch (one.type) {
    case "Literal": {
      if (typeof one.value !== "number")
        throw new Fault(`“${one.raw}” is no number.`, placeOf(text, one.raw));
      return;
    }
    case "Identifier":
      if (!/^[a-z][a-z0-9_]*$/.test(one.name))
        throw new Fault(
          `“${one.name}” is no name: small letters, digits and _ alone.`,
          placeOf(text, one.name),
        );
      names.add(one.name);
      return;
    case "UnaryExpression":
    case "Percent":
      inspect(one.argument as Expression, text, names);
      return;
    case "BinaryExpression":
      inspect(one.left as Expression, text, names);
      inspect(one.right as Expression, text, names);
      return;
    case "CallExpression": {
      const callee = one.callee as CoreExpression;
      const name = callee.type === "Identifier" ? callee.name : "";
      const known = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : undefined;
      if (!known)
        throw new Fault(
          `There is no function “${name || "…"}”. There are: ${FUNCTION_NAMES.join(", ")}.`,
          placeOf(text, name),
        );
      const { length } = one.arguments;
      if (length < known.least || length > known.most)
        throw new Fault(
          `“${name}” takes ${known.least === known.most ? known.least : `${known.least} to ${known.most}`} values, not ${length}.`,
          placeOf(text, name),
        );
      for (const argument of one.arguments) {
        if (!argument) throw new Fault("A value is missing between commas.", placeOf(text, name));
        inspect(argument as Expression, text, names);
      }
      return;
    }
    default:
      throw new Fault("Only one sum can stand here: numbers, names, + − × ÷ and functions.", 0);
  }
}

/**
 * What a formula comes to. A comparison is 1 or 0. Every result is within ±10^15 and has 34 digits at most; what divides by
 * nothing or names nothing known is said. Never throws.
 */
export function reckon(text: string, known: Readonly<Record<string, Decimal>>): Value {
  const parsed = parse(text);
  if (!parsed.ok) return parsed;
  try {
    return { ok: true, value: amountOf(parsed.tree, text, known) };
  } catch (error) {
    return faultOf(error, text);
  }
}

function amountOf(node: Expression, text: string, known: Readonly<Record<string, Decimal>>): Decimal {
  const value = rawAmount(node, text, known);
  if (!value.isFinite() || value.abs().gt(LARGEST)) throw new Fault("It becomes too large.", 0);
  return value;
}

function rawAmount(node: Expression, text: string, known: Readonly<Record<string, Decimal>>): Decimal {
  const one = node as CoreExpression | Percent;
  const of = (part: unknown) => amountOf(part as Expression, text, known);
  switch (one.type) {
    case "Literal":
      // The digits as they were written: no float ever stands between.
      return new D(one.raw);
    case "Identifier": {
      if (!Object.hasOwn(known, one.name))
        throw new Fault(`“${one.name}” is neither an input nor a line above.`, placeOf(text, one.name));
      return new D(known[one.name]!);
    }
    case "Percent":
      return of(one.argument).div(100);
    case "UnaryExpression":
      return one.operator === "+" ? of(one.argument) : of(one.argument).neg();
    case "BinaryExpression":
      return operate(one.operator, of(one.left), of(one.right), text);
    case "CallExpression": {
      const { name } = one.callee as unknown as { name: string };
      // Only what holds is reckoned: the other side may divide by nothing.
      if (name === "if") return of(of(one.arguments[0]).isZero() ? one.arguments[2] : one.arguments[1]);
      return apply(name, one.arguments.map(of));
    }
    default:
      throw new Fault("Only one sum can stand here.", 0);
  }
}

const truth = (is: boolean) => new D(is ? 1 : 0);

function operate(operator: string, a: Decimal, b: Decimal, text: string): Decimal {
  switch (operator) {
    case "+":
      return a.plus(b);
    case "-":
    case "−":
      return a.minus(b);
    case "*":
    case "×":
      return a.times(b);
    case "/":
    case "÷":
      if (b.isZero()) throw new Fault("It divides by nothing.", Math.max(0, text.search(/[/÷]/)));
      return a.div(b);
    case "<":
      return truth(a.lt(b));
    case ">":
      return truth(a.gt(b));
    case "<=":
      return truth(a.lte(b));
    case ">=":
      return truth(a.gte(b));
    case "=":
      return truth(a.eq(b));
    case "<>":
      return truth(!a.eq(b));
    case "and":
      return truth(!a.isZero() && !b.isZero());
    case "or":
      return truth(!a.isZero() || !b.isZero());
    default:
      throw new Fault(`“${operator}” can’t be used here.`, placeOf(text, operator));
  }
}

function apply(name: string, values: readonly Decimal[]): Decimal {
  const [first, second] = values as [Decimal, Decimal | undefined];
  switch (name) {
    case "min":
      return D.min(...values);
    case "max":
      return D.max(...values);
    case "abs":
      return first.abs();
    case "up":
      return toMultiple(first, second, Decimal.ROUND_CEIL);
    case "down":
      return toMultiple(first, second, Decimal.ROUND_FLOOR);
    default:
      return toMultiple(first, second, Decimal.ROUND_HALF_UP);
  }
}

/** To whole multiples: `round(1234, 50)` is 1250. Of nothing, or of less than a ten-thousandth, there are none. */
export function toMultiple(value: Decimal, of: Decimal = new D(1), rounding: Decimal.Rounding): Decimal {
  if (of.lt("0.0001")) throw new Fault("Round to a multiple of 0.0001 or more.", 0);
  return new D(value).div(of).toDecimalPlaces(0, rounding).times(of);
}
