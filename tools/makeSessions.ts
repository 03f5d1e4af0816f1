// Writes simulated sessions with what is true of them, to evaluate on: of our own kit maker (world "own": synthesised strokes) or of
// a stranger's (world "recorded": recorded one-shots in velocity layers, from the Debian package hydrogen-drumkits).
// usage: node dist/makeSessions.mjs own|recorded OUT FIRST LAST [hard] [nameless] [STYLE]   (styles of playing, world own: see demo/varied.ts)
import { existsSync, rmSync } from "node:fs";
import { join } from "node:path";
import { simulate } from "../demo/simulate";
import { hardKit, styledKit, styles, variedKit } from "../demo/varied";
import { loadKit, recordedVoices, shotKits } from "./worlds/shots";
import { strangerKit } from "./worlds/strangerKit";
import { strangerSong } from "./worlds/strangerSong";
import { writeSession } from "./worlds/writeSession";

const [world = "", out = "", first = "1", last = "1"] = process.argv.slice(2);
const hard = process.argv.includes("hard");
const nameless = process.argv.includes("nameless");
const style = styles.find((s) => process.argv.includes(s));
const say = (text: string) => process.stdout.write(`${text}\n`);

async function make(seed: number) {
  const rate = seed % 3 === 0 ? 44100 : seed % 11 === 5 && world === "recorded" ? 96000 : 48000;
  if (world === "own") {
    const { kit, song } = style ? styledKit(seed, style) : (hard ? hardKit : variedKit)(seed);
    return { kit, song, rate, voices: undefined, from: "synthesis" };
  }
  const kits = shotKits();
  if (kits.length === 0) throw new Error("install the Debian package hydrogen-drumkits");
  const kit = strangerKit(seed, hard);
  const has = (piece: string) => kit.pieces.some((p) => p.piece === piece);
  const song = strangerSong(seed, hard, has);
  const shots = await loadKit(kits[seed % kits.length]!, rate);
  return { kit, song, rate, voices: recordedVoices(shots, seed), from: shots.folder };
}

for (let seed = Number(first); seed <= Number(last); seed++) {
  const folder = join(
    out,
    `${world}${hard ? "-hard" : ""}${style ? `-${style}` : ""}${nameless ? "-nameless" : ""}-${seed}`,
  );
  if (existsSync(`${folder}.truth/truth.json`)) continue;
  rmSync(folder, { recursive: true, force: true });
  const { kit, song, rate, voices, from } = await make(seed);
  if (nameless) {
    // In another order than the roles, so that a name says nothing.
    const order = kit.mics.map((_, i) => (i * 7 + seed) % kit.mics.length);
    const free = new Set(order).size === order.length;
    kit.mics.forEach((m, i) => (m.file = `Audio ${(free ? order[i]! : i) + 1}.wav`));
  }
  writeSession(folder, kit, song, simulate(kit, song, rate, seed, voices), { seed, world, from });
  say(
    `${folder}: ${kit.mics.length} mics, ${song.strikes.length} strokes, ${song.bpm} bpm, ${rate} Hz, ${from}`,
  );
}
