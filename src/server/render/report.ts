import type { Revision } from "../../contract";
import type { Verdict } from "../../core/deliver/checks";
import { processorType } from "../../core/processors";
import { inKitOrder } from "../../core/song/kitOrder";
import { isFree } from "../../core/song/chain";
import { nameOf, ownerOf, ownersOf, type Owner } from "../../core/song/graph";
import type { Measurement } from "../../core/measure/measureAudio";
import type { Proposal } from "../../core/song/proposal";
import { valueTold } from "../../core/song/differences";
import type { ProcessorState, Song } from "../../core/song/song";
import { strokeOffsets, type Tightness } from "../../core/tighten/tightness";
import { escape } from "./html";
import { eqPicture, faderPicture, songPicture, timingPicture } from "./reportPictures";

/** What a report tells of. */
export interface Done {
  song: Song;
  taken: readonly Proposal[];
  tightness: Tightness | null;
}

const db = (x: number): string => (Number.isFinite(x) ? x.toFixed(1).replace("-", "−") : "−∞");

/** A processor with its most important values, those that do something. */
function inWords(state: ProcessorState): string {
  const { label, main, params, idle } = processorType(state.type);
  const still = idle(state.params);
  const set = main
    .filter((name) => !still.includes(name) && params[name] && state.params[name] !== "off")
    .map((name) => `${params[name]!.label.toLowerCase()} ${valueTold(state, name)}`);
  return set.length > 0 ? `${label} (${set.join(", ")})` : label;
}

/** A row that tells what one mic or bus goes through, and where to. */
const wayOf =
  (song: Song) =>
  (owner: Owner): string => {
    const called = (id: string): string => nameOf(ownerOf(song, id)!);
    const chain = owner.chain
      .filter((p) => p.on && isFree(p))
      .map(
        (p) =>
          inWords(p) +
          (p.key ? ` by ${called(p.key)}` : "") +
          (p.response && ownerOf(song, p.response) ? ` of ${called(p.response)}` : ""),
      );
    const sends = owner.sends.map((s) => `${called(s.bus)} ${db(s.level)} dB`);
    const cells = [
      nameOf(owner) + (owner.muted ? " (muted)" : ""),
      chain.join(", ") || "–",
      `${db(owner.level)} dB`,
      sends.join(", ") || "–",
      owner.output === null ? "the end" : called(owner.output),
    ];
    // A picture beside the words of what has one.
    const eqs = owner.chain.filter((p) => p.on && p.type === "eq").map((p) => eqPicture(p, song.sampleRate));
    const moves = owner.levelMoves ?? [];
    const pictures = ["", eqs.join(" "), moves.length > 0 ? faderPicture(moves, song) : ""];
    return `<tr>${cells.map((c, i) => `<td>${escape(c)}${pictures[i] ? `<br>${pictures[i]}` : ""}</td>`).join("")}</tr>`;
  };

/** What is told beside the song where it is known. */
export interface Beside {
  readonly verdicts?: readonly Verdict[];
  /** Newest first. */
  readonly revisions?: readonly Revision[];
}

const table = (heads: readonly string[], rows: readonly (readonly string[])[]): string =>
  `<table><tr>${heads.map((h) => `<th>${h}</th>`).join("")}</tr>${rows.map((r) => `<tr>${r.map((c) => `<td>${escape(c)}</td>`).join("")}</tr>`).join("\n")}</table>`;

const judged = (verdicts: readonly Verdict[]): string =>
  verdicts.length === 0
    ? ""
    : `<h2>Checks</h2>${table(
        ["", "Check", "Figure", "Why"],
        verdicts.map((v) => [v.grade, v.name, v.figure, v.reason]),
      )}`;
const revised = (revisions: readonly Revision[]): string =>
  revisions.length === 0
    ? ""
    : `<h2>Revisions</h2>${table(
        ["", "Name", "Kept", "Note", "What changed"],
        revisions.map((r) => [
          String(r.number),
          r.name,
          r.at.slice(0, 16).replace("T", " "),
          r.note,
          r.changes.join("; "),
        ]),
      )}`;

/** A printable page of what was done to a kit and why. */
export function reportHtml(
  { song, taken, tightness }: Done,
  kit: Measurement,
  { verdicts = [], revisions = [] }: Beside = {},
): string {
  const rows = taken
    .map((p) => `<tr><td>${p.step}</td><td>${escape(p.sentence)}</td><td>${escape(p.figure)}</td></tr>`)
    .join("\n");
  const mics = inKitOrder(song.mics)
    .map(
      (m) =>
        `<tr><td>${escape(m.file)}</td><td>${m.piece}</td><td>${m.place}</td><td>${m.silent ? "silent" : m.unplayed ? "never played" : `${db(m.peakDbfs)} dBFS`}</td></tr>`,
    )
    .join("\n");
  const ways = ownersOf(song).map(wayOf(song)).join("\n");
  const playing = tightness
    ? `${timingPicture(strokeOffsets(song), song)}<p>Main strokes lie ${(1000 * tightness.spreadBefore).toFixed(1)} ms around the grid, ${(1000 * tightness.spreadAfter).toFixed(1)} ms after ${tightness.cuts} cuts; largest move ${(1000 * tightness.largestMove).toFixed(1)} ms.</p>`
    : "";
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escape(song.title)}: what was done</title>
<style>body{font:15px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem}svg{max-width:100%;height:auto}td svg{width:120px}table{border-collapse:collapse;width:100%}td,th{border-bottom:1px solid #ccc;padding:.25rem .5rem;text-align:left}@media print{body{font-size:11px;margin:0}h2{break-after:avoid}tr{break-inside:avoid}}</style>
<h1>${escape(song.title)}</h1>
<p>${song.mics.length} mics, ${(song.frames / song.sampleRate).toFixed(1)} s at ${song.sampleRate} Hz${song.tempo ? `, ${song.tempo.bpm.toFixed(2)} bpm` : ""}, ${song.hits.length} strokes.</p>
<p>The kit: ${db(kit.integrated)} LUFS, true peak ${db(kit.truePeakDb)} dBTP, loudness range ${db(kit.range)} LU, crest ${db(kit.crestDb)} dB.</p>
${song.hits.length > 0 ? songPicture(song) : ""}
<h2>Mics</h2><table><tr><th>File</th><th>Drum</th><th>Place</th><th>Peak</th></tr>${mics}</table>
<h2>Chains and ways</h2><table><tr><th>Mic or bus</th><th>Chain</th><th>Level</th><th>Sends</th><th>Goes to</th></tr>${ways}</table>
${judged(verdicts)}
${revised(revisions)}
${playing}<h2>What was done</h2><table><tr><th>Step</th><th>What</th><th>Figure</th></tr>${rows}</table></html>
`;
}
