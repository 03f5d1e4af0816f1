// Recorded one-shots in velocity layers, from the Debian package hydrogen-drumkits (drum kits of many authors under free
// licences; see its copyright file). Read by tools and benches only; nothing of it is part of the project.
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { Voices } from "../../demo/simulate";
import { normal } from "../../demo/voices";
import { designPass2, designShelf, filtered } from "../../src/core/signal/biquad";
import { randomSource } from "../../src/core/signal/random";
import { decodeFile } from "../../src/server/audio/decodeFile";
import { resample } from "../../src/server/audio/convert";

const home = "/usr/share/hydrogen/data/drumkits";
/** Names that a kit's author gives to instruments, and what they are here; the first that fits counts. */
const kinds: readonly (readonly [RegExp, string])[] = [
  [/side ?stick|rim ?click|^stick$/i, "snare:stick"],
  [/rimshot|roll|dry|brush|swish|choke|flink|splash|china|tambou|agogo|cow|clap|free|crash\/ride/i, ""],
  [/kick|bass ?drum/i, "kick"],
  [/snare/i, "snare"],
  [/floor|tom low/i, "floor"],
  [/tom mid|tom 2/i, "tom2"],
  [/tom/i, "tom1"],
  [/(hat|hh).*(semi)|(hat|hh).*open|open.*(hat|hh)/i, "hat:open"],
  [/pedal/i, "hat:pedal"],
  [/(hat|hh).*closed|closed.*(hat|hh)/i, "hat"],
  [/bell|cup/i, "ride:bell"],
  [/ride/i, "ride"],
  [/crash/i, "crash"],
];
const kindOf = (name: string): string => kinds.find(([words]) => words.test(name))?.[1] ?? "";

/** Layers of one way to strike a piece, soft to loud, mono, their onset at frame 0 and their peak at 1. */
export type Layers = readonly Float32Array[];
export interface ShotKit {
  readonly folder: string;
  /** "kick", "snare", "snare:stick", "hat", "hat:open" … */
  readonly shots: ReadonlyMap<string, Layers>;
}

/** Folders of kits that have what a session needs, in order of name; empty without the package. */
export function shotKits(): string[] {
  if (!existsSync(home)) return [];
  return readdirSync(home)
    .sort()
    .filter((folder) => {
      const layers = instruments(folder);
      const count = (kind: string) => layers.get(kind)?.length ?? 0;
      return (
        count("kick") > 2 && count("snare") > 2 && count("hat") > 2 && count("floor") > 2 && count("tom1") > 2
      );
    });
}

/** Files of a kit by kind, soft to loud; of several instruments of one kind the first with most layers. */
function instruments(folder: string): Map<string, string[]> {
  const path = join(home, folder, "drumkit.xml");
  const found = new Map<string, string[]>();
  if (!existsSync(path)) return found;
  for (const [, text] of readFileSync(path, "utf8").matchAll(/<instrument>([\s\S]*?)<\/instrument>/g)) {
    const kind = kindOf(/<name>(.*?)<\/name>/.exec(text!)?.[1] ?? "");
    const layers = [...text!.matchAll(/<layer>([\s\S]*?)<\/layer>/g)].map(([, l]) => ({
      file: /<filename>(.*?)<\/filename>/.exec(l!)?.[1] ?? "",
      from: Number(/<min>(.*?)<\/min>/.exec(l!)?.[1] ?? 0),
    }));
    const files = layers.sort((a, b) => a.from - b.from).map((l) => join(home, folder, l.file));
    if (kind && files.length > (found.get(kind)?.length ?? 0))
      found.set(
        kind,
        files.filter((f) => existsSync(f)),
      );
  }
  return found;
}

/** Mean of the channels from the onset on (6 % of the peak of the attack), faded at its end, at another rate. */
async function readShot(file: string, rate: number): Promise<Float32Array> {
  const read = await decodeFile(readFileSync(file));
  const mono = read.channels[0]!.map(
    (_, i) => read.channels.reduce((s, c) => s + c[i]!, 0) / read.channels.length,
  );
  const [x] = await resample([mono], read.sampleRate, rate);
  const peak = x!.reduce((m, v) => Math.max(m, Math.abs(v)), 1e-9);
  const attack = x!.findIndex((v) => Math.abs(v) > 0.3 * peak);
  const start = Math.max(
    0,
    x!.findIndex((v, i) => i > attack - 0.012 * rate && Math.abs(v) > 0.06 * peak),
  );
  const most = Math.round(2.5 * rate);
  const y = x!.slice(start, start + most).map((v) => v / peak);
  const fade = Math.min(y.length, Math.round(0.05 * rate));
  for (let i = 0; i < fade; i++) y[y.length - 1 - i]! *= i / fade;
  return y;
}

export async function loadKit(folder: string, rate: number): Promise<ShotKit> {
  const shots = new Map<string, Layers>();
  for (const [kind, files] of instruments(folder))
    shots.set(kind, await Promise.all(files.map((f) => readShot(f, rate))));
  return { folder, shots };
}

/** A shot read a little faster or slower, straight lines between frames. */
function respeeded(x: Float32Array, factor: number): Float32Array {
  return Float32Array.from({ length: Math.floor((x.length - 2) / factor) }, (_, i) => {
    const at = i * factor;
    const k = Math.floor(at);
    return x[k]! + (at - k) * (x[k + 1]! - x[k]!);
  });
}

/**
 * Strokes of a recorded kit: the layer of the velocity, each a little out of tune and of another colour, at the level the
 * velocity asks for. The kick's inner mic has more of its click, its front is dull and slow; below the snare sound the wires.
 */
export function recordedVoices(kit: ShotKit, seed: number): Voices {
  const session = randomSource(seed * 31 + 7);
  const click = 2 + 10 * session();
  const front = 700 + 1800 * session();
  const wires = 0.3 + 0.9 * session();
  return (piece, strike, random, rate) => {
    const { how, velocity } = strike;
    const layers =
      kit.shots.get(how ? `${piece.piece}:${how}` : piece.piece) ??
      kit.shots.get(piece.piece) ??
      kit.shots.get({ tom2: "tom1", ride: "crash", crash: "ride" }[piece.piece] ?? "");
    if (piece.piece === "buzz") return [wireNoise(random, rate, 0.09)];
    if (!layers || layers.length === 0) return null;
    const at = Math.min(
      layers.length - 1,
      Math.max(0, Math.round(velocity ** 1.5 * layers.length - 0.5 + 0.5 * normal(random))),
    );
    const shifted = piece.piece === "tom2" && !kit.shots.has("tom2") ? 0.84 : 1;
    const shelf = designShelf("high", 3000, 0.9 * normal(random), 0.7071, rate);
    let x = filtered(respeeded(layers[at]!, shifted * (1 + 0.006 * normal(random))), [shelf]);
    if (strike.choke > 0 && piece.piece === "hat") {
      const fall = Math.exp(-1 / (strike.choke * 3 * rate));
      let e = 1;
      x = x.slice(0, Math.round(strike.choke * 15 * rate)).map((v) => v * (e *= fall));
    }
    if (piece.piece === "kick") {
      const high = filtered(x, [designPass2("high", 2000, 0.7071, rate)]);
      const more = 10 ** (click / 20) - 1;
      return [
        x.map((v, i) => v + more * high[i]!),
        filtered(x, [designPass2("low", front, 0.7071, rate), designPass2("low", 2.5 * front, 0.6, rate)]),
      ];
    }
    if (piece.piece === "snare") {
      const low = filtered(x, [designPass2("low", 1500, 0.7071, rate)]);
      const noise = wireNoise(random, rate, 0.06 + 0.05 * random());
      return [x, x.map((v, i) => -0.7 * low[i]! + 0.3 * (v - low[i]!) + wires * (noise[i] ?? 0))];
    }
    return [x];
  };
}

function wireNoise(random: () => number, rate: number, decay: number): Float32Array {
  const x = Float32Array.from(
    { length: Math.round(5 * decay * rate) },
    (_, i) => (2 * random() - 1) * Math.exp(-i / (decay * rate)) * Math.min(1, i / (0.0012 * rate)),
  );
  return filtered(x, [designPass2("high", 1800, 0.7071, rate)]);
}
