/** What a name can hold between braces, with what each stands for. */
export const nameTokens = {
  song: "title of the song",
  name: "name of the file: kit, mic or bus",
  kind: "what it is: stem or bus; nothing for the kit",
  number: "place in the list, two digits",
  section: "name of the section; nothing for the whole song",
  rate: "sample rate in kHz",
} as const;
export type NameToken = keyof typeof nameTokens;
export type NameParts = Readonly<Record<NameToken, string>>;

export const usualPattern = "{kind} {name}";

/**
 * A file's name by a pattern, without its ending: tokens between braces are filled in, and what empty ones leave behind (double
 * or outer blanks, dashes and underscores) goes.
 * Errors  RangeError for a token that is unknown, and for a pattern without {name} and {number}, which would call all files the same.
 */
export function fileName(pattern: string, parts: NameParts): string {
  if (!/\{(name|number)\}/.test(pattern))
    throw new RangeError(`"${pattern}" calls all files the same: put {name} or {number} into it`);
  const filled = pattern.replace(/\{([^{}]*)\}/g, (_, token: string) => {
    if (!(token in parts))
      throw new RangeError(
        `{${token}} is unknown; known: ${Object.keys(nameTokens)
          .map((t) => `{${t}}`)
          .join(", ")}`,
      );
    return parts[token as NameToken];
  });
  return filled
    .replace(/\s+/g, " ")
    .replace(/([ _-])\1+/g, "$1")
    .replace(/^[ _-]+|[ _-]+$/g, "");
}
