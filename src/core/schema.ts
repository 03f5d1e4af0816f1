/**
 * Declares what a value must look like, once, for everything that takes it: operations, files, requests. A check throws and
 * says where the value lies, what it is and what is allowed.
 */
export type Check = (value: unknown, path: string) => void;

const shown = (value: unknown): string => {
  const text = JSON.stringify(value) ?? String(value);
  return text.length > 60 ? `${text.slice(0, 57)}…` : text;
};
/** What an entry of a list is called, so that people find it. */
const named = (entry: unknown): string => {
  const { file, name } = (entry ?? {}) as { file?: unknown; name?: unknown };
  const called = file ?? name;
  return typeof called === "string" ? ` (${called.slice(0, 60)})` : "";
};
const refuse = (path: string, value: unknown, allowed: string): never => {
  throw new RangeError(`${path} is ${shown(value)}; it must be ${allowed}`);
};

/** A number with its range. */
export const within =
  (min: number, max: number, unit = ""): Check =>
  (value, path) => {
    if (typeof value !== "number" || !(value >= min && value <= max))
      refuse(path, value, `a number between ${min} and ${max}${unit && ` ${unit}`}`);
  };
export const whole =
  (min: number, max: number): Check =>
  (value, path) => {
    if (!Number.isSafeInteger(value) || (value as number) < min || (value as number) > max)
      refuse(path, value, `a whole number between ${min} and ${max}`);
  };
/** A parameter of the interface, with its declared range. */
export const param = ({ min, max, unit }: { min: number; max: number; unit: string }): Check =>
  within(min, max, unit);
export const flag: Check = (value, path) => {
  if (typeof value !== "boolean") refuse(path, value, "true or false");
};
export const text =
  (max: number, min = 0): Check =>
  (value, path) => {
    if (typeof value !== "string" || value.length > max || value.trim().length < min)
      refuse(path, value, `a text of ${min > 0 ? `${min} to` : "at most"} ${max} characters`);
  };
export const oneOf =
  (names: readonly string[]): Check =>
  (value, path) => {
    if (!names.includes(value as string)) refuse(path, value, `one of ${names.join(", ")}`);
  };
export const orNull =
  (check: Check): Check =>
  (value, path) => {
    if (value !== null) check(value, path);
  };
export const list =
  (item: Check, most: number, least = 0): Check =>
  (value, path) => {
    if (!Array.isArray(value)) return refuse(path, value, "a list");
    if (value.length < least || value.length > most)
      throw new RangeError(`${path} has ${value.length} entries; it may have ${least} to ${most}`);
    for (let i = 0; i < value.length; i++) item(value[i], `${path}[${i}]${named(value[i])}`);
  };
const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Values by name. */
export const record =
  (key: Check, item: Check, most: number): Check =>
  (value, path) => {
    if (!isRecord(value)) return refuse(path, value, "an object");
    const names = Object.keys(value);
    if (names.length > most) throw new RangeError(`${path} has ${names.length} entries; it may have ${most}`);
    for (const name of names) {
      key(name, `a name in ${path}`);
      item(value[name], `${path}.${name}`);
    }
  };

/** Exactly these fields; those of `may` can be missing. */
export const object =
  (must: Readonly<Record<string, Check>>, may: Readonly<Record<string, Check>> = {}): Check =>
  (value, path) => {
    if (!isRecord(value)) return refuse(path, value, "an object");
    for (const name of Object.keys(must))
      if (value[name] === undefined) throw new TypeError(`${path} lacks ${name}`);
    for (const name of Object.keys(value)) {
      const check = Object.hasOwn(must, name) ? must[name] : Object.hasOwn(may, name) ? may[name] : undefined;
      if (!check) throw new TypeError(`${path} has an unknown field "${name}"`);
      if (value[name] !== undefined) check(value[name], `${path}.${name}`);
    }
  };

/** One of several shapes, told by the value of a field. */
export const byField =
  (field: string, shapes: Readonly<Record<string, Check>>): Check =>
  (value, path) => {
    const name = isRecord(value) ? value[field] : undefined;
    if (typeof name !== "string" || !Object.hasOwn(shapes, name))
      return refuse(`${path}.${field}`, name, `one of ${Object.keys(shapes).join(", ")}`);
    shapes[name]!(value, path);
  };
export const both =
  (...checks: readonly Check[]): Check =>
  (value, path) => {
    for (const check of checks) check(value, path);
  };
