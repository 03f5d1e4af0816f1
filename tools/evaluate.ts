// Analyses simulated kits of many seeds and prints how far the results lie from the simulator's truth.
// Seeds 1-20 were used for tuning; report with others. With "hard": louder bleed, other tones, clipping, flams, second
// clocks; with "nameless": all files are called "Audio 1.wav" and so on.
// A style of playing (compound, wash, whispers, blast, drifting, fast, slow) makes kits that are played so.
// usage: npx esbuild tools/evaluate.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/evaluate.mjs
//        node dist/evaluate.mjs FIRST LAST [hard] [nameless] [STYLE]
import { demoSampleRate } from "../demo/demoSong";
import { scoreHits } from "../demo/score";
import { simulate } from "../demo/simulate";
import { hardKit, styledKit, styles, variedKit } from "../demo/varied";
import { readAudio } from "../src/core/file/audioFile";
import { micFile } from "../demo/demoSong";
import { analyseKit } from "../src/core/gather/analyseKit";
import { guessLabels } from "../src/core/gather/labels";
import { resample } from "../src/server/audio/resample";

const [first = 101, last = 110] = process.argv.slice(2, 4).map(Number);
const hard = process.argv.includes("hard");
const nameless = process.argv.includes("nameless");
const style = styles.find((s) => process.argv.includes(s));
const say = (text: string) => process.stdout.write(`${text}\n`);
const pool = { labels: [0, 0], polarity: [0, 0], arrivalPolarity: [0, 0] };
const pairErrors: number[] = [];
const arrivalErrors: number[] = [];
const bpmErrors: number[] = [];
const beatErrors: number[] = [];
const mains: number[] = [];
const ghosts: number[] = [];
const quantile = (list: number[], q: number) => {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? NaN;
};

for (let seed = first; seed <= last; seed++) {
  const { kit, song } = style ? styledKit(seed, style) : (hard ? hardKit : variedKit)(seed);
  const rate = seed % 3 === 0 ? 44100 : demoSampleRate;
  const { mics, truth } = simulate(kit, song, rate, seed);
  const read = mics.map((m, i) => ({
    file: nameless ? `Audio ${i + 1}.wav` : m.spec.file,
    ...readAudio(micFile(m, rate)),
  }));
  const labels = guessLabels(read.map((m) => ({ file: m.file, channels: m.channels.length })));
  const delivered = await Promise.all(read.map(async (m, i) => ({ file: m.file, label: labels[i]!, channels: await resample(m.channels, rate, rate) }))); // prettier-ignore
  const found = await analyseKit(delivered, rate);
  const wrong: string[] = [];
  for (const [i, m] of found.mics.entries()) {
    const t = truth.mics[i]!;
    pool.labels[1]!++;
    const far = t.piece === "overhead" || t.piece === "room";
    const placeRight = nameless || m.place === t.place || (far && t.place === "close"); // a place is rarely heard
    if (m.piece === t.piece && placeRight) pool.labels[0]!++;
    else wrong.push(`${m.file}: ${m.piece}/${m.place} for ${t.piece}/${t.place}`);
    if (m.unplayed !== t.unplayed) wrong.push(`${m.file}: unplayed ${m.unplayed}`);
    if (t.delaySamples !== null && m.reference && m.piece === t.piece && m.place === t.place) {
      pool.polarity[1]!++;
      if (m.polarity === t.polarity) pool.polarity[0]!++;
      else wrong.push(`${m.file}: polarity`);
      pairErrors.push(Math.abs(m.delaySamples - t.delaySamples));
    }
  }
  for (const a of found.arrivals) {
    const { file, drift } = mics[read.findIndex((r) => r.file === a.mic)]!.spec;
    const t = truth.arrivals.find((x) => x.piece === a.piece && x.mic === file && x.channel === a.channel);
    if (
      !t ||
      !["kick", "snare", "tom1", "tom2", "floor"].includes(a.piece) ||
      /room|rm|amb/i.test(file) ||
      drift !== 0
    )
      continue;
    pool.arrivalPolarity[1]!++;
    if (a.polarity === t.polarity) pool.arrivalPolarity[0]!++;
    arrivalErrors.push(Math.abs(a.delaySamples - t.delaySamples));
  }
  if (found.tempo) {
    bpmErrors.push(Math.abs(found.tempo.bpm - truth.tempo.bpm));
    beatErrors.push(Math.abs(found.tempo.firstBeat - truth.tempo.firstBeatSeconds));
  } else wrong.push("no tempo");
  const score = scoreHits(found.hits, truth.hits);
  mains.push(score.mainF);
  ghosts.push(score.ghostF);
  say(`${seed}: main F ${score.mainF.toFixed(3)} ghost F ${score.ghostF.toFixed(3)} hat F ${score.cymbalF.toFixed(3)} timing ${(1000 * score.timingMedian).toFixed(2)} ms bpm ${found.tempo?.bpm.toFixed(2)}/${truth.tempo.bpm} ${wrong.join("; ")}`); // prettier-ignore
}
say(`labels ${pool.labels.join("/")} polarity ${pool.polarity.join("/")} pair delay error median ${quantile(pairErrors, 0.5).toFixed(2)} worst ${quantile(pairErrors, 1).toFixed(2)} smp`); // prettier-ignore
say(`to overheads: polarity ${pool.arrivalPolarity.join("/")}, delay error median ${quantile(arrivalErrors, 0.5).toFixed(1)} p95 ${quantile(arrivalErrors, 0.95).toFixed(1)} smp`); // prettier-ignore
say(`bpm error worst ${quantile(bpmErrors, 1).toFixed(3)}, first beat median ${(1000 * quantile(beatErrors, 0.5)).toFixed(1)} worst ${(1000 * quantile(beatErrors, 1)).toFixed(1)} ms`); // prettier-ignore
say(`main F median ${quantile(mains, 0.5).toFixed(3)} worst ${quantile(mains, 0).toFixed(3)}; ghost F median ${quantile(ghosts, 0.5).toFixed(3)} worst ${quantile(ghosts, 0).toFixed(3)}`); // prettier-ignore
