import { SpooledSamples, type SpooledPlace } from "../audio/spool";

const isPlace = (value: object): value is SpooledPlace =>
  "spool" in value && "at" in value && "length" in value;

/** What came to a thread, with the signals that lie in a spool readable again: a message carries only where they lie. Changes it. */
export function withSpooled<T>(value: T): T {
  if (value === null || typeof value !== "object" || ArrayBuffer.isView(value)) return value;
  if (isPlace(value)) return new SpooledSamples(value) as T;
  const parts = value as Record<string, unknown>;
  for (const key of Object.keys(parts)) parts[key] = withSpooled(parts[key]);
  return value;
}
