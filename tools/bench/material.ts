import { partsOf, withFree } from "../../src/core/song/chain";
import { newMic, newProcessor, newSong, newBus } from "../../src/core/song/create";
import type { ParamValue } from "../../src/core/params";
import { bleedBands } from "../../src/core/signal/bleedBands";
import { drumPieces, type Piece, type ProcessorState, type Song } from "../../src/core/song/song";
import { noise } from "../../src/core/testing/signals";

export const rate = 48000;

/** Strokes twice a second over a noise floor, so that gates and compressors have work. */
export const drum = (length: number, seed: number): Float32Array => {
  const x = noise(length, seed, 0.5);
  for (let i = 0; i < length; i++) x[i]! *= 0.002 + Math.exp(-(i % 24000) / 2400);
  return x;
};

export const fullEq: Record<string, ParamValue> = {
  highPassSlope: "12",
  highPassFrequency: 60,
  lowShelfGain: 2,
  bell1Gain: 3,
  bell2Gain: -4,
  bell3Gain: -6,
  bell4Gain: 3,
  highShelfGain: 2,
};
export const fullChain = (owner: string): ProcessorState[] => [
  newProcessor(owner, "gate", true, { threshold: -40 }),
  newProcessor(owner, "eq", true, fullEq),
  newProcessor(owner, "compressor", true, { threshold: -24 }),
  newProcessor(owner, "saturation", true, { drive: 6 }),
];
/** The nearest that ffmpeg has: the same gate, EQ, compressor, four times oversampled soft clip and pan. */
export const ffmpegGraph = [
  "agate=threshold=0.01:ratio=9000:attack=0.3:release=80",
  "highpass=f=60:p=2",
  "bass=g=2:f=100",
  "equalizer=f=200:t=q:w=1:g=3",
  "equalizer=f=400:t=q:w=1:g=-4",
  "equalizer=f=1000:t=q:w=1:g=-6",
  "equalizer=f=4000:t=q:w=1:g=3",
  "treble=g=2:f=8000",
  "acompressor=threshold=0.063:ratio=4:attack=5:release=150:knee=2",
  "asoftclip=type=tanh:oversample=4",
  "pan=stereo|c0=0.7071*c0|c1=0.7071*c0",
].join(",");

const heardBy: readonly Piece[] = [...drumPieces, "overhead"];

/** A song with everything switched on in every mic and bus, and eight buses. */
export function busySong(mics: number): Song {
  const names = Array.from({ length: mics }, (_, i) => `m${i}`);
  const song = newSong(
    "bench",
    rate,
    names.map((id, i) =>
      newMic({
        id,
        file: `${id}.wav`,
        audio: null,
        channels: 1,
        frames: 60 * rate,
        piece: heardBy[i % heardBy.length]!,
        place: "close",
        sure: 1,
      }),
    ),
  );
  // Every mic hears every drum, so that cancelling has all to tell apart.
  const heard = {
    usualDb: new Array<number>(bleedBands).fill(-30),
    drums: Object.fromEntries(drumPieces.map((p) => [p, new Array<number>(bleedBands).fill(-15)])),
  };
  const bleed = Object.fromEntries(names.map((id) => [id, [heard]]));
  const on = (state: ProcessorState): ProcessorState => ({
    ...state,
    on: true,
    params: {
      ...state.params,
      ...(state.type === "eq" ? fullEq : {}),
      ...(state.type === "delay" ? { delay: 3.3 } : {}),
    },
  });
  const again = song.buses
    .filter((b) => b.output !== null)
    .slice(0, 2)
    .flatMap((b) =>
      [1, 2].map((n) => ({
        ...b,
        id: `${b.id}${n}`,
        chain: b.chain.map((p) => ({ ...p, id: `${p.id}${n}` })),
      })),
    );
  const buses = [...again, ...song.buses].map((b) => ({ ...b, muted: false, chain: b.chain.map(on) }));
  return {
    ...song,
    bleed,
    buses,
    mics: song.mics.map((m) => ({
      ...m,
      chain: m.chain.map(on),
      sends: buses
        .filter((b) => b.output !== null)
        .map((b) => ({ bus: b.id, level: -6, from: "fader" as const, followsPan: true })),
    })),
  };
}

/** Processors whose order can change without a change of what they cost. */
const shuffled = <T>(list: readonly T[], turn: number): T[] => {
  const out = [...list];
  // Every turn another order: Lehmer's code of the number.
  const order: T[] = [];
  for (let n = out.length, code = turn; n > 0; n--) {
    order.push(...out.splice(code % n, 1));
    code = Math.floor(code / n);
  }
  return order;
};

/** The same mics and processors, every chain in an order of its own: no two share lanes. */
export const unlikeChains = (song: Song): Song => ({
  ...song,
  mics: song.mics.map((m, i) => {
    const { free } = partsOf(m.chain);
    return { ...m, chain: withFree(m.chain, shuffled(free, i)) };
  }),
});

const busTypes = ["eq", "compressor", "saturation", "gate"] as const;
const busChain = (owner: string, turn: number): ProcessorState[] =>
  shuffled(busTypes, turn)
    .slice(0, 3)
    .map((type) => ({
      ...newProcessor(owner, type, true, type === "eq" ? fullEq : {}),
    }));

/** The song with so many buses besides the kit, each with three processors on; mics spread over them. */
export function withBuses(song: Song, count: number, different: boolean): Song {
  const ids = Array.from({ length: count - 1 }, (_, i) => `bus${i}`);
  const kit = song.buses[song.buses.length - 1]!;
  return {
    ...song,
    mics: song.mics.map((m, i) => ({ ...m, output: ids[i % ids.length]!, sends: [] })),
    buses: [...ids.map((id, i) => newBus(id, id, "group", { chain: busChain(id, different ? i : 0) })), kit],
  };
}

/** What is to be possible: 24 mics, 12 drum and group buses, 4 parallel paths and the kit, no two chains alike, all on. */
export function fullGraph(mics: number): Song {
  const song = unlikeChains(busySong(mics));
  const kit = song.buses[song.buses.length - 1]!;
  const group = (i: number, output: string) =>
    newBus(`g${i}`, `Group ${i}`, "group", { chain: busChain(`g${i}`, i), output });
  const parallel = (i: number) =>
    newBus(`p${i}`, `Parallel ${i}`, "parallel", { chain: busChain(`p${i}`, 12 + i) });
  const send = (i: number) => ({ bus: `p${i % 4}`, level: -6, from: "fader", followsPan: true }) as const;
  return {
    ...song,
    mics: song.mics.map((m, i) => ({ ...m, output: `g${i % 9}`, sends: [send(i), send(i + 1)] })),
    buses: [
      ...Array.from({ length: 9 }, (_, i) => group(i, `g${9 + (i % 3)}`)),
      ...[9, 10, 11].map((i) => group(i, kit.id)),
      ...[0, 1, 2, 3].map(parallel),
      kit,
    ],
  };
}
