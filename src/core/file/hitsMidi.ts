import { writeMidi, type MidiEvent } from "midi-file";
import { median } from "../signal/level";
import type { Hit, Piece, Tempo } from "../song/song";
import { AudioFileError } from "./sampleFormat";
import { clockOf, openMidi, type Placed } from "./midi";

/**
 * Keys of the pieces on the percussion channel, the one that is written first.
 * Source  General MIDI percussion key map: 35/36 bass drum, 37 side stick, 38/40 snare, 41 to 50 toms, 42/44/46 hats, 49/57
 *         crash, 51/59 ride.
 */
const keys: Partial<Record<Piece, readonly number[]>> = {
  kick: [36, 35],
  snare: [38, 40, 37],
  floor: [41, 43],
  tom3: [45],
  tom2: [47],
  tom1: [48, 50],
  hat: [42, 44, 46],
  crash: [49, 57, 52, 55],
  ride: [51, 53, 59],
};
const sideStick = 37;
const percussion = 9;
/** Ticks of a beat, and length of a note in them: short, as drums have no end. */
const ticksPerBeat = 960;
const noteTicks = 60;
/** dB under a drum's loudest stroke at which the velocity is a tenth: velocity follows the square root of the amplitude. */
const velocityOf = (db: number): number => Math.max(1, Math.min(127, Math.round(127 * 10 ** (db / 40))));
/** Level of a velocity against the loudest, dB. */
export const velocityDb = (velocity: number): number => 40 * Math.log10(Math.max(1, velocity) / 127);

/** A track of events on absolute ticks, with its end. */
function trackOf(events: readonly Placed[]): MidiEvent[] {
  let last = 0;
  const track = [...events]
    .sort((a, b) => a.tick - b.tick)
    .map(({ tick, event }): MidiEvent => {
      const deltaTime = tick - last;
      last = tick;
      return { ...event, deltaTime };
    });
  return [...track, { deltaTime: 0, meta: true, type: "endOfTrack" }];
}

/**
 * A tempo map from time 0 on: a first stretch that leads to the first beat, then one tempo a beat where it moves.
 * The tick of an instant lies on the same map, so that a note falls where it is heard.
 */
function mapOf(tempo: Tempo | null): { events: Placed[]; tickAt: (seconds: number) => number } {
  const beats = tempo && tempo.beats.length > 1 ? tempo.beats : [0, 0.5];
  const usual = tempo ? 60 / tempo.bpm : 0.5;
  // As many whole beats before the first one as its distance from zero makes likely, stretched to fit.
  const lead = Math.max(beats[0]! > 0.02 ? 1 : 0, Math.round(beats[0]! / usual));
  const times = [
    ...(lead > 0 ? Array.from({ length: lead }, (_, i) => (beats[0]! * i) / lead) : []),
    ...beats,
  ];
  const micros = (seconds: number) => Math.round((seconds * 1e6) / (tempo?.compound ? 1.5 : 1));
  const perBeat = ticksPerBeat * (tempo?.compound ? 1.5 : 1);
  const events: Placed[] = [];
  // Times as a reader adds them up from whole microseconds, so that rounding does not grow.
  const read = [0];
  let lastMicros = -1;
  for (let i = 0; i + 1 < times.length; i++) {
    const quarter = micros(times[i + 1]! - read[i]!);
    if (quarter !== lastMicros)
      events.push({
        tick: i * perBeat,
        event: { deltaTime: 0, meta: true, type: "setTempo", microsecondsPerBeat: quarter },
      });
    lastMicros = quarter;
    read.push(read[i]! + (quarter * (tempo?.compound ? 1.5 : 1)) / 1e6);
  }
  const meter = (tick: number, beatsPerBar: number, compound: boolean) =>
    events.push({
      tick,
      event: {
        deltaTime: 0,
        meta: true,
        type: "timeSignature",
        numerator: compound ? 3 * beatsPerBar : beatsPerBar,
        denominator: compound ? 8 : 4,
        metronome: 24,
        thirtyseconds: 8,
      },
    });
  if (tempo) {
    // What lies before bar one is a bar of its own length, so that bar lines fall where they are.
    const before = lead + tempo.pickUp;
    if (before > 0) meter(0, before, tempo.compound);
    meter(before * perBeat, tempo.beatsPerBar, tempo.compound);
    for (const m of tempo.meters) meter((lead + m.beat) * perBeat, m.beatsPerBar, m.compound);
  }
  const tickAt = (seconds: number): number => {
    let i = read.findIndex((t) => t > seconds) - 1;
    if (i < 0) i = seconds < 0 ? 0 : read.length - 2;
    const length = read[i + 1]! - read[i]!;
    return Math.max(0, Math.round((i + (seconds - read[i]!) / length) * perBeat));
  };
  return { events, tickAt };
}

/**
 * Strokes as a Standard MIDI File with one tempo track and one on the percussion channel.
 * Shape   `playedAt` moves a stroke's instant to where it is heard. Velocities follow the level against the drum's loudest
 *         stroke; a stroke on the rim is a side stick.
 * Source  Standard MIDI Files 1.0; General MIDI percussion key map.
 */
export function writeHitsMidi(
  hits: readonly Hit[],
  tempo: Tempo | null,
  title: string,
  playedAt: (time: number) => number = (t) => t,
): Uint8Array {
  const loudest = new Map<Piece, number>();
  for (const h of hits) loudest.set(h.piece, Math.max(loudest.get(h.piece) ?? -Infinity, h.levelDb));
  const { events, tickAt } = mapOf(tempo);
  const notes = hits.flatMap((h): Placed[] => {
    const own = keys[h.piece];
    if (!own) return [];
    const note = { deltaTime: 0, channel: percussion, noteNumber: h.kind === "rim" ? sideStick : own[0]! };
    const tick = tickAt(playedAt(h.time));
    const velocity = velocityOf(h.levelDb - loudest.get(h.piece)!);
    return [
      { tick, event: { ...note, type: "noteOn", velocity } },
      { tick: tick + noteTicks, event: { ...note, type: "noteOff", velocity: 64 } },
    ];
  });
  const name = (text: string): Placed => ({
    tick: 0,
    event: { deltaTime: 0, meta: true, type: "trackName", text },
  });
  return Uint8Array.from(
    writeMidi({
      header: { format: 1, numTracks: 2, ticksPerBeat },
      tracks: [trackOf([name(title), ...events]), trackOf([name("Drums"), ...notes])],
    }),
  );
}

const pieceOf = (key: number): Piece | undefined =>
  (Object.keys(keys) as Piece[]).find((piece) => keys[piece]!.includes(key));

/**
 * Strokes of a Standard MIDI File by the General MIDI percussion map, from the percussion channel, or from all channels
 * when nothing is on it.
 * Shape   ascending, `loudestDb` is what a velocity of 127 means; strokes far under a drum's middle velocity are ghosts.
 * Errors  AudioFileError in words that follow the file's name.
 */
export function readHitsMidi(bytes: Uint8Array, loudestDb = -6): Hit[] {
  const { events, ticksPerQuarter } = openMidi(bytes);
  const clock = clockOf(events, ticksPerQuarter);
  const notes = events.flatMap(({ tick, event }) =>
    event.type === "noteOn" && event.velocity > 0 ? [{ time: clock(tick), ...event }] : [],
  );
  const drums = notes.some((n) => n.channel === percussion)
    ? notes.filter((n) => n.channel === percussion)
    : notes;
  const hits = drums.flatMap(({ time, noteNumber, velocity }): Hit[] => {
    const piece = pieceOf(noteNumber);
    if (!piece) return [];
    const kind = noteNumber === sideStick ? "rim" : "stroke";
    return [{ piece, time, levelDb: loudestDb + velocityDb(velocity), ghost: false, kind, sure: 1 }];
  });
  if (hits.length === 0) throw new AudioFileError("holds no strokes of a drum kit");
  const middle = new Map<Piece, number>();
  for (const { piece } of hits)
    if (!middle.has(piece))
      middle.set(piece, median(hits.filter((h) => h.piece === piece).map((h) => h.levelDb)));
  return hits.map((h) => ({ ...h, ghost: h.piece === "snare" && h.levelDb < middle.get(h.piece)! - 10 }));
}
