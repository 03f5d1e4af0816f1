/** An escape that may stand for a NUL or for half a character; such a text cannot be stored. */
const suspicious = /\\u(0000|d[89a-f])/i;
// Whole pairs are taken as one character by the flag, halves are left over.
const unusable = /\0|\p{Cs}/u;

/** True where a text, or a name of a field, anywhere in a value cannot be stored. */
function holdsUnusable(value: unknown): boolean {
  const open: unknown[] = [value];
  while (open.length > 0) {
    const next = open.pop();
    if (typeof next === "string" ? unusable.test(next) : false) return true;
    if (typeof next === "object" && next !== null)
      for (const [name, inner] of Object.entries(next)) {
        if (unusable.test(name)) return true;
        open.push(inner);
      }
  }
  return false;
}

/**
 * JSON whose texts can be stored. Errors  SyntaxError: no JSON; RangeError in words: a text holds a NUL or half a character (a surrogate
 * without the other, Unicode 15, 3.8).
 */
export function readJson(text: string): unknown {
  const value: unknown = JSON.parse(text);
  if (suspicious.test(text) && holdsUnusable(value))
    throw new RangeError("a text in it holds a NUL or half a character, which nothing can show or store");
  return value;
}
