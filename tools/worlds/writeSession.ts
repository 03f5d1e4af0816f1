// Writes a simulated session as a stranger would deliver it, and beside it what is true: FOLDER/*.wav, FOLDER.truth/truth.json, and
// the drum's own part and the bleed of every close mic as arrays (float32, numpy's format).
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { micFile } from "../../demo/demoSong";
import type { Kit } from "../../demo/kit";
import type { Performance } from "../../demo/performance";
import { buzz, type SimulatedMic, type Truth } from "../../demo/simulate";
import { RealFft, powerOfTwo } from "../../src/core/signal/fft";

const far = (piece: string) => piece === "overhead" || piece === "room";

/** Numpy's array file, version 1.0. Shape  [frames][channels]. */
function npy(channels: readonly Float32Array[]): Uint8Array {
  const frames = channels[0]!.length;
  const head = `{'descr': '<f4', 'fortran_order': False, 'shape': (${frames}, ${channels.length}), }`;
  const padded = head.padEnd(128 - 10 - 1) + "\n";
  const out = new Uint8Array(128 + 4 * frames * channels.length);
  out.set([0x93, 0x4e, 0x55, 0x4d, 0x50, 0x59, 1, 0, 118, 0]);
  out.set(new TextEncoder().encode(padded), 10);
  const values = new Float32Array(out.buffer, 128);
  channels.forEach((x, c) => x.forEach((v, i) => (values[i * channels.length + c] = v)));
  return out;
}

/** Lag of b behind a, frames, at which they correlate best within `reach` of `around`, of the sign given. */
function bestLag(a: Float32Array, b: Float32Array, around: number, sign: number, reach = 320): number {
  const size = powerOfTwo(a.length + 4096);
  const fft = RealFft.of(size);
  const [x, y] = [fft.spectrum(), fft.spectrum()];
  fft.forward(a, 0, a.length, x);
  fft.forward(b, 0, b.length, y);
  for (let k = 0; k < x.re.length; k++) {
    const re = x.re[k]! * y.re[k]! + x.im[k]! * y.im[k]!;
    y.im[k] = x.re[k]! * y.im[k]! - x.im[k]! * y.re[k]!;
    y.re[k] = re;
  }
  const r = new Float32Array(size);
  fft.inverse(y, r as unknown as Float64Array);
  let best = Math.round(around) - reach;
  const at = (lag: number) => sign * r[(lag + size) % size]!;
  for (let lag = best; lag <= around + reach; lag++) if (at(lag) > at(best)) best = lag;
  const [u, v, w] = [at(best - 1), at(best), at(best + 1)];
  const bend = u - 2 * v + w;
  return best + (bend < 0 ? (0.5 * (u - w)) / bend : 0);
}

type Session = { readonly mics: SimulatedMic[]; readonly truth: Truth };

const mainOf = (kit: Kit, piece: string): number => kit.mics.findIndex((m) => m.piece === piece);

/** What is true of a mic. */
function describedMic(i: number, { mics, truth }: Session, main: number): object {
  const { spec, channels, own } = mics[i]!;
  const t = truth.mics[i]!;
  const second = !far(spec.piece) && main !== i;
  const polarity = second ? t.polarity : 1;
  const delay = t.delaySamples ?? 0;
  const align = second && !t.unplayed ? bestLag(mics[main]!.own[0]!, own[0]!, delay, polarity) : delay;
  return {
    file: spec.file,
    channels: channels.length,
    piece: spec.piece,
    place: spec.place,
    dualMono: false,
    main: main === i && !far(spec.piece),
    frames: channels[0]!.length,
    delaySamples: delay,
    alignSamples: align,
    polarity,
    wiredBackwards: spec.inverted,
    offsetSamples: spec.offset,
    silent: false,
    playable: true,
    unplayed: t.unplayed,
  };
}

/** A ghost note so shortly before a main stroke of its drum is that stroke's grace note, s. */
const graceBefore = 0.045;

function describedStrokes({ hits }: Truth): object[] {
  const strokes = hits.map((h) => ({
    piece: h.piece,
    timeSeconds: h.timeSeconds,
    gridTimeSeconds: h.timeSeconds,
    velocityDb: 40 * (h.velocity - 1),
    ghost: h.ghost,
    flam: false,
    how: "",
  }));
  const begins = (s: (typeof strokes)[number]) =>
    strokes.some(
      (o) =>
        !o.ghost &&
        o.piece === s.piece &&
        o.timeSeconds > s.timeSeconds &&
        o.timeSeconds - s.timeSeconds < graceBefore,
    );
  for (const s of strokes) s.flam = s.ghost && begins(s);
  return strokes;
}

function describedTempo({ bpm, firstBeat, beatsPerBar, beats }: Performance): object {
  const compound = beatsPerBar === 2;
  const strays = Math.max(...beats.slice(1).map((b, i) => Math.abs(60 / (b - beats[i]!) / bpm - 1)));
  return {
    bpm,
    firstBeatSeconds: firstBeat,
    beatsPerBar,
    meter: compound ? "6/8" : "4/4",
    drift: strays > 1e-6 ? 0.01 : 0,
    grid: { stepsPerBeat: compound ? 6 : 4, beats },
    alternatives: compound
      ? [
          { bpm: 3 * bpm, beatsPerBar: 6, beatsPerTrueBeat: 3 },
          { bpm: 1.5 * bpm, beatsPerBar: 3, beatsPerTrueBeat: 1.5 },
        ]
      : [],
  };
}

/** Writes a session and its truth; `extra` is told beside it. */
export function writeSession(
  folder: string,
  kit: Kit,
  song: Performance,
  session: Session,
  extra: object,
): void {
  const { mics, truth } = session;
  const beside = `${folder}.truth`;
  for (const part of [folder, join(beside, "own"), join(beside, "bleed")])
    mkdirSync(part, { recursive: true });
  for (const simulated of mics) {
    const { spec, channels, own } = simulated;
    writeFileSync(join(folder, spec.file), micFile(simulated, truth.sampleRate));
    const mine = far(spec.piece) ? channels : own;
    const bleed = channels.map((x, c) => x.map((v, k) => v - mine[c]![k]!));
    writeFileSync(join(beside, "own", `${spec.file}.npy`), npy(mine));
    writeFileSync(join(beside, "bleed", `${spec.file}.npy`), npy(bleed));
  }
  const pieces = [...new Set(song.strikes.map((s) => s.piece).filter((p) => p !== buzz))];
  const overhead = kit.mics.find((m) => m.piece === "overhead")!.file;
  const main = Object.fromEntries(
    pieces.map((p) => {
      const i = mainOf(kit, p);
      return [p, { mic: i < 0 ? overhead : kit.mics[i]!.file, channel: 0, close: i >= 0 }];
    }),
  );
  const all = {
    ...extra,
    sampleRate: truth.sampleRate,
    durationSeconds: truth.durationSeconds,
    tempo: describedTempo(song),
    main,
    mics: mics.map(({ spec }, i) => describedMic(i, session, mainOf(kit, spec.piece))),
    strokes: describedStrokes(truth),
    arrivals: truth.arrivals.map((a) => ({ ...a, alignSamples: a.delaySamples })),
  };
  writeFileSync(join(beside, "truth.json"), JSON.stringify(all));
}
