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

export function writeSession(
  folder: string,
  kit: Kit,
  song: Performance,
  { mics, truth }: { mics: SimulatedMic[]; truth: Truth },
  extra: object,
): void {
  const beside = `${folder}.truth`;
  for (const part of [folder, join(beside, "own"), join(beside, "bleed")])
    mkdirSync(part, { recursive: true });
  const rate = truth.sampleRate;
  const mainOf = (piece: string) => kit.mics.findIndex((m) => m.piece === piece);
  const described = mics.map(({ spec, channels, own }, i) => {
    writeFileSync(join(folder, spec.file), micFile({ spec, channels, own }, rate));
    const mine = far(spec.piece) ? channels : own;
    writeFileSync(join(beside, "own", `${spec.file}.npy`), npy(mine));
    writeFileSync(
      join(beside, "bleed", `${spec.file}.npy`),
      npy(channels.map((x, c) => x.map((v, k) => v - mine[c]![k]!))),
    );
    const t = truth.mics[i]!;
    const main = mainOf(spec.piece);
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
  });
  const pieces = [...new Set(song.strikes.map((s) => s.piece).filter((p) => p !== buzz))];
  const main = Object.fromEntries(
    pieces.map((p) => {
      const i = mainOf(p);
      const overhead = kit.mics.find((m) => m.piece === "overhead")!.file;
      return [p, { mic: i < 0 ? overhead : kit.mics[i]!.file, channel: 0, close: i >= 0 }];
    }),
  );
  const beats = song.beats;
  const compound = song.beatsPerBar === 2;
  const strokes = truth.hits.map((h) => ({
    piece: h.piece,
    timeSeconds: h.timeSeconds,
    gridTimeSeconds: h.timeSeconds,
    velocityDb: 40 * (h.velocity - 1),
    ghost: h.ghost,
    flam: false,
    how: "",
  }));
  // A ghost note right before a main stroke of its drum is that stroke's grace note.
  for (const s of strokes)
    s.flam =
      s.ghost &&
      strokes.some(
        (o) =>
          !o.ghost &&
          o.piece === s.piece &&
          o.timeSeconds > s.timeSeconds &&
          o.timeSeconds - s.timeSeconds < 0.045,
      );
  const all = {
    ...extra,
    sampleRate: rate,
    durationSeconds: truth.durationSeconds,
    tempo: {
      bpm: song.bpm,
      firstBeatSeconds: song.firstBeat,
      beatsPerBar: song.beatsPerBar,
      meter: compound ? "6/8" : "4/4",
      drift:
        Math.max(...beats.slice(1).map((b, i) => Math.abs(60 / (b - beats[i]!) / song.bpm - 1))) > 1e-6
          ? 0.01
          : 0,
      grid: { stepsPerBeat: compound ? 6 : 4, beats },
      alternatives: compound
        ? [
            { bpm: 3 * song.bpm, beatsPerBar: 6, beatsPerTrueBeat: 3 },
            { bpm: 1.5 * song.bpm, beatsPerBar: 3, beatsPerTrueBeat: 1.5 },
          ]
        : [],
    },
    main,
    mics: described,
    strokes,
    arrivals: truth.arrivals.map((a) => ({ ...a, alignSamples: a.delaySamples })),
  };
  writeFileSync(join(beside, "truth.json"), JSON.stringify(all));
}
