import type { Measurement } from "../../core/measure/measureAudio";
import type { Proposal } from "../../core/song/proposal";
import type { Song } from "../../core/song/song";
import type { Tightness } from "../../core/tighten/tightness";

/** What a report tells of. */
export interface Done {
  song: Song;
  taken: readonly Proposal[];
  tightness: Tightness | null;
}

const escape = (s: string): string =>
  s.replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c]!);
const db = (x: number): string => (Number.isFinite(x) ? x.toFixed(1) : "−∞");

/** A printable page of what was done to a kit and why. */
export function reportHtml({ song, taken, tightness }: Done, kit: Measurement): string {
  const rows = taken
    .map((p) => `<tr><td>${p.step}</td><td>${escape(p.sentence)}</td><td>${escape(p.figure)}</td></tr>`)
    .join("\n");
  const mics = song.mics
    .map(
      (m) =>
        `<tr><td>${escape(m.file)}</td><td>${m.piece}</td><td>${m.place}</td><td>${m.silent ? "silent" : m.unplayed ? "never played" : `${db(m.peakDbfs)} dBFS`}</td></tr>`,
    )
    .join("\n");
  const playing = tightness
    ? `<p>Main strokes lie ${(1000 * tightness.spreadBefore).toFixed(1)} ms around the grid, ${(1000 * tightness.spreadAfter).toFixed(1)} ms after ${tightness.cuts} cuts; largest move ${(1000 * tightness.largestMove).toFixed(1)} ms.</p>`
    : "";
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escape(song.title)}: what was done</title>
<style>body{font:15px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem}table{border-collapse:collapse;width:100%}td,th{border-bottom:1px solid #ccc;padding:.25rem .5rem;text-align:left}td:last-child{white-space:nowrap}</style>
<h1>${escape(song.title)}</h1>
<p>${song.mics.length} mics, ${(song.frames / song.sampleRate).toFixed(1)} s at ${song.sampleRate} Hz${song.tempo ? `, ${song.tempo.bpm.toFixed(2)} bpm` : ""}, ${song.hits.length} strokes.</p>
<p>The kit: ${db(kit.integrated)} LUFS, true peak ${db(kit.truePeakDb)} dBTP, loudness range ${db(kit.range)} LU, crest ${db(kit.crestDb)} dB.</p>
<h2>Mics</h2><table><tr><th>File</th><th>Drum</th><th>Place</th><th>Peak</th></tr>${mics}</table>
${playing}<h2>What was done</h2><table><tr><th>Step</th><th>What</th><th>Figure</th></tr>${rows}</table></html>
`;
}
