/** Unit of a parameter as it is stored. "dB" is a level, "smp" frames of the song, "" a bare ratio or count. */
export type Unit = "dB" | "Hz" | "s" | "smp" | "%" | ":1" | "Q" | "dB/oct" | "m" | "";

/** A number with a range. `scale` tells sliders how the range is spread; it never changes the stored value. */
export interface NumberParam {
  readonly label: string;
  readonly help: string;
  readonly unit: Unit;
  readonly min: number;
  readonly max: number;
  readonly default: number;
  readonly scale?: "linear" | "log";
}

/** One of a few named ways to work. */
export interface ChoiceParam {
  readonly label: string;
  readonly help: string;
  readonly choices: readonly string[];
  readonly default: string;
}

export type ParamSpec = NumberParam | ChoiceParam;
export type ParamTable = Readonly<Record<string, ParamSpec>>;
export type ParamValue = number | string;
export type AnyValues = Readonly<Record<string, ParamValue>>;
export type ParamValues<T extends ParamTable> = {
  readonly [K in keyof T]: T[K] extends { readonly choices: readonly (infer C)[] } ? C : number;
};

/** True for a parameter that takes one of several names. */
export const isChoice = (spec: ParamSpec): spec is ChoiceParam => "choices" in spec;

/**
 * Checks one value against its declaration and returns it.
 * Errors  TypeError for an unknown name or a wrong type, RangeError outside the range; the text holds name, value,
 *         allowed range and unit.
 */
export function checkParam(table: ParamTable, name: string, value: unknown): ParamValue {
  const spec = Object.hasOwn(table, name) ? table[name] : undefined;
  if (!spec) throw new TypeError(`unknown parameter "${name}"; known: ${Object.keys(table).join(", ")}`);
  if (isChoice(spec)) {
    if (typeof value !== "string" || !spec.choices.includes(value))
      throw new RangeError(
        `${name} is ${JSON.stringify(value)}; it must be one of ${spec.choices.join(", ")}`,
      );
    return value;
  }
  if (typeof value !== "number" || !Number.isFinite(value))
    throw new TypeError(`${name} is ${JSON.stringify(value)}; it must be a number`);
  if (value < spec.min || value > spec.max)
    throw new RangeError(
      `${name} is ${value} ${spec.unit}; it must lie between ${spec.min} and ${spec.max} ${spec.unit}`,
    );
  return value;
}

/**
 * Completes given values with the defaults of a table.
 * Errors  as checkParam, for every name given.
 */
export function resolveParams<T extends ParamTable>(table: T, given: AnyValues): ParamValues<T> {
  const values: Record<string, ParamValue> = {};
  for (const name of Object.keys(table)) values[name] = table[name]!.default;
  for (const name of Object.keys(given)) values[name] = checkParam(table, name, given[name]);
  return values as ParamValues<T>;
}

/** Shorthand for a declaration, so that a table reads one parameter a line. */
export const number = (
  label: string,
  unit: Unit,
  min: number,
  max: number,
  fallback: number,
  help: string,
  scale: "linear" | "log" = "linear",
): NumberParam => ({ label, unit, min, max, default: fallback, help, scale });

/** Shorthand for a choice; the first name is the default. */
export const choice = <const C extends readonly [string, ...string[]]>(
  label: string,
  choices: C,
  help: string,
) => ({
  label,
  choices,
  default: choices[0],
  help,
});
