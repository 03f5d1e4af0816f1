import { isChoice } from "../params";
import { processorType } from "../processors";
import { sameValue } from "../sameValue";
import { isMic, nameOf, ownerOf, ownersOf, type Owner } from "./graph";
import type { ProcessorState, Song } from "./song";

const db = (x: number): string => `${x >= 0 ? "+" : "−"}${Math.abs(x).toFixed(1)} dB`;
const plain = (file: string): string => file.replace(/\.[A-Za-z0-9]{2,4}$/, "");
const called = (owner: Owner): string => (isMic(owner) ? plain(owner.file) : owner.name);

/** A value with its unit, as it is told. */
export function valueTold({ type, params }: ProcessorState, name: string): string {
  const spec = processorType(type).params[name];
  const value = params[name];
  if (!spec || isChoice(spec) || typeof value !== "number") return String(value);
  const short = Number(value.toPrecision(3));
  return `${String(short).replace("-", "−")}${spec.unit === "" ? "" : ` ${spec.unit}`}`;
}

/** What changed in one processor that is there before and after. */
function ofProcessor(where: string, before: ProcessorState, after: ProcessorState): string[] {
  if (sameValue(before, after)) return [];
  const type = processorType(after.type);
  const label = `${type.label} of ${where}`;
  if (before.on !== after.on) return [`${label} switched ${after.on ? "on" : "off"}`];
  const names = Object.keys(type.params).filter((n) => before.params[n] !== after.params[n]);
  const values = names.slice(0, mostValues).map((n) => {
    const name = type.params[n]!.label.toLowerCase();
    return `${name} ${valueTold(before, n)} → ${valueTold(after, n)}`;
  });
  const more = names.length > mostValues ? `, ${names.length - mostValues} values more` : "";
  if (values.length > 0) return [`${label}: ${values.join(", ")}${more}`];
  return [`${label}: ${before.key !== after.key ? "another key" : "other values in a section"}`];
}
/** Values of one processor that are told. */
const mostValues = 3;

function ofOwner(before: Owner, after: Owner, song: Song): string[] {
  const where = called(after);
  const words: string[] = [];
  if (before.level !== after.level) words.push(`${where} ${db(after.level - before.level)}`);
  if (!sameValue(before.levelBySection ?? {}, after.levelBySection ?? {}))
    words.push(`${where}: other levels in sections`);
  if (!sameValue(before.levelMoves ?? [], after.levelMoves ?? []))
    words.push(`${where}: the fader is moved otherwise over the song`);
  if (before.muted !== after.muted) words.push(`${where} ${after.muted ? "muted" : "heard again"}`);
  if (!isMic(before) && !isMic(after) && (before.pan !== after.pan || before.width !== after.width))
    words.push(`${where}: balance ${after.pan} %, width ${after.width} %`);
  if (before.output !== after.output)
    words.push(
      `${where} goes to ${after.output === null ? "nothing" : nameOf(ownerOf(song, after.output)!)}`,
    );
  if (!sameValue(before.sends, after.sends)) words.push(`sends of ${where} changed`);
  const old = new Map(before.chain.map((p) => [p.id, p]));
  const now = new Map(after.chain.map((p) => [p.id, p]));
  const label = (p: ProcessorState) => processorType(p.type).label;
  for (const p of after.chain) {
    const was = old.get(p.id);
    if (!was || was.type !== p.type) words.push(`new ${label(p)} on ${where}`);
    else words.push(...ofProcessor(where, was, p));
  }
  for (const p of before.chain) if (!now.has(p.id)) words.push(`${label(p)} taken out of ${where}`);
  const kept = (list: Owner) => list.chain.filter((p) => old.has(p.id) && now.has(p.id)).map((p) => p.id);
  if (!sameValue(kept(before), kept(after))) words.push(`another order in the chain of ${where}`);
  return words;
}

/** What of the song itself is told when it differs. */
const parts: readonly [keyof Song, string][] = [
  ["title", "another title"],
  ["tempo", "another tempo"],
  ["hits", "other strokes"],
  ["edits", "other cuts"],
  ["tighten", "other settings of Tighten"],
  ["sections", "other sections"],
  ["shaping", "another flavour"],
  ["align", "other settings of Align"],
];

/** What changed from one state of a song to another, in words, the mix first. */
export function differences(before: Song, after: Song): string[] {
  const old = new Map(ownersOf(before).map((o) => [o.id, o]));
  const now = new Set(ownersOf(after).map((o) => o.id));
  return [
    ...ownersOf(after).flatMap((o) => {
      const was = old.get(o.id);
      if (!was) return [`${isMic(o) ? "file" : "bus"} ${called(o)} added`];
      return was === o ? [] : ofOwner(was, o, after);
    }),
    ...ownersOf(before).flatMap((o) =>
      now.has(o.id) ? [] : [`${isMic(o) ? "file" : "bus"} ${called(o)} taken out`],
    ),
    ...parts.flatMap(([part, words]) => (sameValue(before[part], after[part]) ? [] : [words])),
  ];
}
