/** A file name that none of others has, also where capitals do not count: "Kick.wav", then "Kick (2).wav". */
export function uniqueName(name: string, others: readonly string[]): string {
  const taken = new Set(others.map((o) => o.toLowerCase()));
  const [, stem, ending = ""] = /^(.*?)(\.[^.]*)?$/s.exec(name)!;
  let now = name;
  for (let n = 2; taken.has(now.toLowerCase()); n++) now = `${stem} (${n})${ending}`;
  return now;
}
