import { judgedFrom, judgedSeconds } from "../../hits/judgedStretch";
import { busInput } from "../../engine/busInput";
import { processChain } from "../../engine/processChain";
import type { Facts } from "../../facts/facts";
import { newBus } from "../../song/create";
import { isMic, kitOf, ownerOf, type Owner } from "../../song/graph";
import { applyOperation } from "../../song/operations";
import { freeBusId } from "../../song/parallelCopy";
import { mainMic, type Piece, type ProcessorState, type QuickValues, type Song } from "../../song/song";
import { heardDrums, strokesIn, toneOf } from "../heardDrums";
import { quickBasis, quickLouder, untouched } from "./quickBasis";
import { turnQuick } from "./turnQuick";

/** Quick controls by drum, and of the kit. */
export type QuickWishes = Readonly<Partial<Record<Piece | "kit", Partial<QuickValues>>>>;

/** Where the quick controls of a drum stand: on all its mics together, or on its only one. */
export function quickOwner(song: Song, drum: Piece | "kit"): Owner | undefined {
  if (drum === "kit") return kitOf(song);
  return song.buses.find((b) => b.kind === "drum" && b.piece === drum) ?? mainMic(song.mics, drum);
}

/** The lowest partial of what a mic or bus holds, Hz: its drum's, else the kick's; null where none was found. */
export function fundamentalOf(song: Song, facts: Facts, owner: Owner): number | null {
  const kick = mainMic(song.mics, "kick");
  const tone = toneOf(song, facts, owner) ?? (owner.piece === null && kick ? facts.tone[kick.id] : undefined);
  return tone?.fundamental ?? null;
}

/** A pan that takes nothing from what stands in the middle. */
const inMiddle = (p: ProcessorState): ProcessorState =>
  p.type === "pan" ? { ...p, params: { ...p.params, law: "0 dB" } } : p;

/** What the chain of a mic or bus gives over a stretch of the recording. */
function chainOutput(song: Song, owner: Owner, stretch: Float32Array[][], from: number): Float32Array[] {
  if (!isMic(owner))
    return processChain(owner.chain, busInput(song, owner.id, stretch, from), song.sampleRate);
  const tap = freeBusId(song, "tap");
  const sends = [{ bus: tap, level: 0, from: "chain", followsPan: false } as const];
  const mics = song.mics.map((m) => (m.id === owner.id ? { ...m, sends, chain: m.chain.map(inMiddle) } : m));
  const tapped = {
    ...song,
    mics,
    buses: [newBus(tap, "Tap", "parallel", { output: kitOf(song).id }), ...song.buses],
  };
  return busInput(tapped, tap, stretch, from);
}

/** Frames [from, from + count) of audio that may be shorter, silence behind it. */
const cut = (x: Float32Array, from: number, count: number): Float32Array => {
  const y = new Float32Array(count);
  y.set(x.subarray(Math.min(x.length, from), Math.min(x.length, from + count)));
  return y;
};

/**
 * The song with quick controls turned, each placed and matched by the strokes as they come in, over the stretch with the most of them.
 * Shape   audio [mic][channel] as recorded, from the song's first frame on.
 * Errors  RangeError for a drum that has no mic or no main strokes.
 */
export function withQuick(
  song: Song,
  facts: Facts,
  audio: readonly (readonly Float32Array[])[],
  wishes: QuickWishes,
): Song {
  let turned = song;
  // The kit last: what its drums are turned to comes into it.
  const drums = (Object.keys(wishes) as (Piece | "kit")[]).sort(
    (a, b) => Number(a === "kit") - Number(b === "kit"),
  );
  for (const drum of drums) {
    const found = quickOwner(turned, drum);
    if (!found) throw new RangeError(`quick.${drum}: the song has no mic of this drum`);
    const owner = ownerOf(turned, found.id)!;
    const { sampleRate } = turned;
    const from = Math.round(judgedFrom(turned, ...heardDrums(turned, owner)) * sampleRate);
    const count = Math.min(turned.frames - from, Math.round(judgedSeconds * sampleRate));
    const stretch = audio.map((channels) => channels.map((x) => cut(x, from, count)));
    const [x] = chainOutput(turned, owner, stretch, from);
    const onsets = strokesIn(turned, owner)
      .mains.map((f) => f - from)
      .filter((f) => f >= 0 && f < count);
    const place = { piece: owner.piece, fundamental: fundamentalOf(turned, facts, owner), sampleRate };
    const basis = quickBasis(x!, onsets, place);
    if (!basis) throw new RangeError(`quick.${drum}: no main stroke is known by which it could be placed`);
    const values = { ...untouched, ...wishes[drum] };
    const louder = quickLouder(x!, onsets, sampleRate, values, basis);
    turned = applyOperation(turned, turnQuick(turned, owner, { values, basis, louder })).song;
  }
  return turned;
}
