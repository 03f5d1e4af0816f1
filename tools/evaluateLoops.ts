// What is told and taken out of loops mixed from sessions with known truth, a column a world: strokes found, drums taken out by them, and one drum
// raised by 6 dB, beside plain band filters measured the same way.
// usage: node dist/evaluateLoops.mjs SESSION...   (folders with FOLDER.truth/truth.json beside them)
import { siSdr } from "../demo/cleanScore";
import { findLoopStrokes } from "../src/core/loops/findLoopStrokes";
import { loopDrums, type LoopDrum } from "../src/core/loops/loopDrums";
import { takeApart } from "../src/core/loops/takeApart";
import { designButterworth, filtered } from "../src/core/signal/biquad";
import { median } from "../src/core/signal/level";
import { loopsOf, type TrueLoop } from "./loopData";
import { say, worldOf } from "./training";

const loopsEach = 3;
const near = 0.02;
const raisedBy = 6;
/** Strokes further than this from all others count as alone, s, and what of them is measured. */
const alone = 0.09;
const judged = 0.1;

/** What a plain filter takes for a drum (common practice, no source), Hz. */
const bands = { kick: [20, 150], snare: [150, 6000] } as const;
const filteredOut = (x: Float32Array, drum: "kick" | "snare", rate: number): Float32Array =>
  filtered(
    filtered(x, designButterworth("high", bands[drum][0], 4, rate)),
    designButterworth("low", bands[drum][1], 4, rate),
  );

/** Precision and recall as one figure; strokes that lie together are one, ghost notes are neither asked for nor held against anybody. */
function score(truth: readonly { time: number; ghost: boolean }[], said: readonly number[]): number {
  const asked = truth.filter(
    (s, i) => !s.ghost && truth.slice(0, i).every((o) => o.ghost || s.time - o.time > near),
  );
  const taken = new Set<number>();
  let right = 0;
  let wrong = 0;
  for (const time of said) {
    const at = asked.findIndex((s, i) => !taken.has(i) && Math.abs(s.time - time) <= near);
    if (at >= 0) {
      taken.add(at);
      right++;
    } else if (!truth.some((s) => Math.abs(s.time - time) <= near)) wrong++;
  }
  return asked.length === 0 ? NaN : (2 * right) / (right + wrong + asked.length);
}

const energy = (x: Float32Array, rate: number, time: number): number => {
  const at = Math.round(time * rate);
  return x.subarray(at, at + Math.round(judged * rate)).reduce((sum, v) => sum + v * v, 0);
};

/** Change of every lone stroke when `part` is raised, dB: of the drum itself and of the others. */
function raised(loop: TrueLoop, drum: LoopDrum, part: Float32Array): { own: number[]; others: number[] } {
  const { audio, sampleRate: rate, strokes, strange } = loop;
  const louder = audio.map((v, i) => v + (10 ** (raisedBy / 20) - 1) * part[i]!);
  const all = [
    ...loopDrums.flatMap((d) => strokes[d].map((s) => ({ ...s, d }))),
    ...strange.map((time) => ({ time, ghost: false, d: null })),
  ];
  const lone = all.filter((s) => !s.ghost && all.every((o) => o === s || Math.abs(o.time - s.time) > alone));
  const change = ({ time }: { time: number }) =>
    10 * Math.log10(energy(louder, rate, time) / energy(audio, rate, time));
  return {
    own: lone.filter((s) => s.d === drum).map(change),
    others: lone.filter((s) => s.d !== drum).map((s) => Math.abs(change(s))),
  };
}

const found = new Map<string, Map<string, number[]>>();
const put = (world: string, name: string, ...values: number[]): void => {
  const own = found.get(world) ?? new Map<string, number[]>();
  found.set(world, own);
  own.set(name, [...(own.get(name) ?? []), ...values.filter((v) => Number.isFinite(v))]);
};

for (const folder of process.argv.slice(2)) {
  const world = worldOf(folder);
  for (const loop of loopsOf(folder, loopsEach, 900 + folder.length, true)) {
    const { strokes, strange } = findLoopStrokes([loop.audio], loop.sampleRate);
    const timesOf = (drum: LoopDrum) => strokes.filter((s) => s.drum === drum).map((s) => s.time);
    const times = { kick: timesOf("kick"), snare: timesOf("snare"), hat: timesOf("hat") };
    const parts = takeApart([loop.audio], loop.sampleRate, times, strange);
    for (const drum of loopDrums) put(world, `F ${drum}`, score(loop.strokes[drum], times[drum]));
    for (const drum of ["kick", "snare"] as const) {
      if (loop.strokes[drum].length === 0) continue;
      const plain = filteredOut(loop.audio, drum, loop.sampleRate);
      put(world, `SI-SDR ${drum}, dB`, siSdr(loop.stems[drum], parts[drum][0]!));
      put(world, `SI-SDR ${drum} by a filter, dB`, siSdr(loop.stems[drum], plain));
      for (const [name, part] of [
        ["", parts[drum][0]!],
        [" by a filter", plain],
      ] as const) {
        const { own, others } = raised(loop, drum, part);
        put(world, `${drum} raised by 6 dB${name}: itself, dB`, ...own);
        put(world, `${drum} raised by 6 dB${name}: others, dB`, ...others);
      }
    }
  }
}
const worlds = [...found.keys()];
say(["median over loops or strokes".padEnd(48), ...worlds.map((w) => w.padStart(12))].join(""));
for (const name of found.get(worlds[0]!)!.keys())
  say(
    [
      name.padEnd(48),
      ...worlds.map((w) => {
        const v = found.get(w)!.get(name) ?? [];
        return `${v.length > 0 ? median(v).toFixed(2) : "-"} (${v.length})`.padStart(12);
      }),
    ].join(""),
  );
