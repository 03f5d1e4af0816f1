import { panGains } from "../measure/panGains";
import { designRotation } from "../processors/rotation/rotation";
import { responseAt } from "../signal/biquad";
import { RealFft } from "../signal/fft";
import { powerToDb } from "../signal/level";
import { processorOf } from "../song/create";
import type { Mic, Song } from "../song/song";
import { sumBandEdges, sumBands } from "./bands";

/** What folding the kit to mono takes in one band. */
export interface MonoBand {
  readonly from: number;
  readonly to: number;
  /** Energy in mono over that in stereo, dB: 0 in the middle, -3 where the sides are unrelated, less where they cancel. */
  readonly lossDb: number;
  /** The mic without which least is lost, and by how many dB less; null: none stands out. */
  readonly cause: { readonly mic: string; readonly gainDb: number } | null;
}

/** Frames of one stretch that is looked at. */
export const monoFrames = 8192;
/** dB less lost without a mic from which it counts as the cause. */
const standsOut = 0.7;
/** Loss of unrelated sides, dB: what goes beyond is cancelled. */
export const unrelatedLoss = -3.01;

interface Complex {
  re: number;
  im: number;
}

const value = (mic: Mic, type: string, name: string): number => processorOf(mic, type).params[name] as number;

/** What polarity, delay and rotation do to a bin. */
function placing(mic: Mic, sampleRate: number): (k: number) => Complex {
  const sign = processorOf(mic, "polarity").params["polarity"] === "inverted" ? -1 : 1;
  const delay = value(mic, "delay", "delay");
  const rotation = processorOf(mic, "rotation");
  const section = rotation.on ? designRotation(rotation.params, sampleRate) : null;
  return (k) => {
    const angle = (-2 * Math.PI * k * delay) / monoFrames;
    const c = sign * Math.cos(angle);
    const s = sign * Math.sin(angle);
    if (!section) return { re: c, im: s };
    const h = responseAt(section, (k * sampleRate) / monoFrames, sampleRate);
    return { re: c * h.re - s * h.im, im: c * h.im + s * h.re };
  };
}

/** Left and right of every mic in one stretch, [mic]: spectra of both sides. */
interface Spread {
  readonly left: Float64Array[]; // real and imaginary part
  readonly right: Float64Array[];
}

function spread(mic: Mic, channels: readonly Float32Array[], sampleRate: number): Spread {
  const fft = RealFft.of(monoFrames);
  const bins = monoFrames / 2 + 1;
  const out: Spread = {
    left: [new Float64Array(bins), new Float64Array(bins)],
    right: [new Float64Array(bins), new Float64Array(bins)],
  };
  const place = placing(mic, sampleRate);
  channels.forEach((x, ch) => {
    const spectrum = fft.spectrum();
    fft.forward(x, 0, monoFrames, spectrum);
    const [left, right] = panGains(mic, ch, value(mic, "trim", "gain") + mic.level);
    for (let k = 0; k < bins; k++) {
      const p = place(k);
      const re = spectrum.re[k]! * p.re - spectrum.im[k]! * p.im;
      const im = spectrum.re[k]! * p.im + spectrum.im[k]! * p.re;
      out.left[0]![k]! += left * re;
      out.left[1]![k]! += left * im;
      out.right[0]![k]! += right * re;
      out.right[1]![k]! += right * im;
    }
  });
  return out;
}

/**
 * What is lost by band when the kit is folded to mono, and which mic causes it: trims, faders, polarities, delays, rotations and
 * pans as they are set, before gates, filters and buses.
 * Shape   stretches: per stretch and mic its channels, `monoFrames` frames each, cut at strokes all over the song.
 */
export function monoCheck(
  song: Song,
  stretches: readonly (readonly (readonly Float32Array[])[])[],
): MonoBand[] {
  const heard = song.mics.map(
    (m) => !m.muted && !m.silent && m.piece !== "context" && m.piece !== "response",
  );
  const stereo = new Float64Array(sumBands);
  const mono = new Float64Array(sumBands);
  const without = song.mics.map(() => ({
    stereo: new Float64Array(sumBands),
    mono: new Float64Array(sumBands),
  }));
  const bandOf = Int8Array.from({ length: monoFrames / 2 + 1 }, (_, k) => {
    const f = (k * song.sampleRate) / monoFrames;
    return sumBandEdges.findIndex((edge, b) => f >= edge && f < (sumBandEdges[b + 1] ?? 0));
  });
  for (const stretch of stretches) {
    const parts = song.mics.map((m, i) => (heard[i] ? spread(m, stretch[i]!, song.sampleRate) : null));
    for (let k = 0; k < bandOf.length; k++) {
      const band = bandOf[k]!;
      if (band < 0) continue;
      let [lr, li, rr, ri] = [0, 0, 0, 0];
      for (const p of parts) {
        if (!p) continue;
        lr += p.left[0]![k]!;
        li += p.left[1]![k]!;
        rr += p.right[0]![k]!;
        ri += p.right[1]![k]!;
      }
      stereo[band]! += lr * lr + li * li + rr * rr + ri * ri;
      mono[band]! += ((lr + rr) ** 2 + (li + ri) ** 2) / 2;
      parts.forEach((p, i) => {
        if (!p) return;
        const [a, b, c, d] = [
          lr - p.left[0]![k]!,
          li - p.left[1]![k]!,
          rr - p.right[0]![k]!,
          ri - p.right[1]![k]!,
        ];
        without[i]!.stereo[band]! += a * a + b * b + c * c + d * d;
        without[i]!.mono[band]! += ((a + c) ** 2 + (b + d) ** 2) / 2;
      });
    }
  }
  return Array.from({ length: sumBands }, (_, band): MonoBand => {
    const lossDb = powerToDb((mono[band]! + 1e-30) / (stereo[band]! + 1e-30));
    let cause: MonoBand["cause"] = null;
    song.mics.forEach((m, i) => {
      const { stereo: s, mono: e } = without[i]!;
      // A mic that holds nearly all of the band is no cause but the band itself.
      if (!heard[i] || s[band]! < 0.1 * stereo[band]!) return;
      const gainDb = powerToDb((e[band]! + 1e-30) / (s[band]! + 1e-30)) - lossDb;
      if (gainDb > (cause?.gainDb ?? standsOut)) cause = { mic: m.id, gainDb };
    });
    return { from: sumBandEdges[band]!, to: sumBandEdges[band + 1]!, lossDb, cause };
  });
}
