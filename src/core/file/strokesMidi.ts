import { median } from "../signal/level";
import type { LayerStroke } from "../song/song";
import { velocityDb } from "./hitsMidi";
import { clockOf, openMidi } from "./midi";
import { AudioFileError } from "./sampleFormat";

/** Names of the percussion keys. Source  General MIDI 1, percussion key map (from memory). */
const keyNames: Readonly<Record<number, string>> = {
  35: "Acoustic bass drum",
  36: "Bass drum 1",
  37: "Side stick",
  38: "Acoustic snare",
  39: "Hand clap",
  40: "Electric snare",
  41: "Low floor tom",
  42: "Closed hi-hat",
  43: "High floor tom",
  44: "Pedal hi-hat",
  45: "Low tom",
  46: "Open hi-hat",
  47: "Low-mid tom",
  48: "Hi-mid tom",
  49: "Crash cymbal 1",
  50: "High tom",
  51: "Ride cymbal 1",
  52: "Chinese cymbal",
  53: "Ride bell",
  54: "Tambourine",
  55: "Splash cymbal",
  56: "Cowbell",
  57: "Crash cymbal 2",
  58: "Vibraslap",
  59: "Ride cymbal 2",
};

/** What a velocity of 127 means, dBFS. */
const loudestDb = -6;
/** A note this far under the usual one of its key is a ghost note, dB (common practice, no source). */
const ghostUnder = 10;
const levelOf = (velocity: number): number => loudestDb + velocityDb(velocity);

/** Notes of one key on one channel. */
export interface MidiKey {
  readonly channel: number;
  readonly key: number;
  readonly name: string;
  readonly strokes: readonly LayerStroke[];
}

/**
 * Notes of a Standard MIDI File by channel and key, those with most notes first, so that one can choose which of them are strokes.
 * Errors  AudioFileError in words that follow the file's name: no MIDI, one that breaks off, no notes.
 */
export function readMidiKeys(bytes: Uint8Array): MidiKey[] {
  const { events, ticksPerQuarter } = openMidi(bytes);
  const clock = clockOf(events, ticksPerQuarter);
  const found = new Map<
    string,
    { channel: number; key: number; notes: { time: number; velocity: number }[] }
  >();
  for (const { tick, event } of events) {
    if (event.type !== "noteOn" || event.velocity === 0) continue;
    const { channel, noteNumber: key, velocity } = event;
    const id = `${channel} ${key}`;
    const one = found.get(id) ?? { channel, key, notes: [] };
    one.notes.push({ time: clock(tick), velocity });
    found.set(id, one);
  }
  if (found.size === 0) throw new AudioFileError("holds no notes");
  return [...found.values()]
    .sort((a, b) => b.notes.length - a.notes.length || a.key - b.key)
    .map(({ channel, key, notes }): MidiKey => {
      const usual = median(notes.map((n) => levelOf(n.velocity)));
      const strokes = notes.map(({ time, velocity }): LayerStroke => {
        const levelDb = levelOf(velocity);
        return { time, levelDb, ghost: levelDb < usual - ghostUnder };
      });
      const isPercussion = channel === 9;
      return { channel, key, name: (isPercussion && keyNames[key]) || `Note ${key}`, strokes };
    });
}
