import { parseMidi, type MidiEvent } from "midi-file";
import { fourChars } from "./chunks";
import { AudioFileError } from "./sampleFormat";

/** Microseconds of a quarter where no tempo is told: 120 bpm. Source  Standard MIDI Files 1.0, "Set Tempo". */
const usualQuarter = 500000;
/** True for a Standard MIDI File. */
export const isMidi = (head: Uint8Array): boolean =>
  head.length >= 4 && String.fromCharCode(...head.subarray(0, 4)) === "MThd";

export interface Placed {
  readonly tick: number;
  readonly event: MidiEvent;
}

/** Events of all tracks on one time line, in ticks. */
function eventsOf(tracks: readonly (readonly MidiEvent[])[]): Placed[] {
  const events: Placed[] = [];
  for (const track of tracks) {
    let tick = 0;
    for (const event of track) events.push({ tick: (tick += event.deltaTime), event });
  }
  return events.sort((a, b) => a.tick - b.tick);
}

/** Turns ticks into seconds along the tempo changes; ascending ticks only. */
export function clockOf(events: readonly Placed[], ticksPerQuarter: number): (tick: number) => number {
  const changes = events.flatMap(({ tick, event }) =>
    event.type === "setTempo" ? [{ tick, quarter: event.microsecondsPerBeat }] : [],
  );
  let next = 0;
  let at = 0;
  let time = 0;
  let quarter = usualQuarter;
  return (tick) => {
    for (; next < changes.length && changes[next]!.tick <= tick; next++) {
      time += ((changes[next]!.tick - at) * quarter) / ticksPerQuarter / 1e6;
      at = changes[next]!.tick;
      quarter = changes[next]!.quarter;
    }
    return time + ((tick - at) * quarter) / ticksPerQuarter / 1e6;
  };
}

/** Tracks that are there to their end. Source  Standard MIDI Files 1.0: a chunk is four letters, its length, and that many bytes. */
function wholeTracks(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let whole = 0;
  for (let at = 0; at + 8 <= bytes.length;) {
    const end = at + 8 + view.getUint32(at + 4);
    if (end <= bytes.length && fourChars(view, at) === "MTrk") whole++;
    at = end;
  }
  return whole;
}

/**
 * Events of a Standard MIDI File on one time line.
 * Errors  AudioFileError in words that follow the file's name: no MIDI, one that breaks off, no tracks, or a time line of film frames.
 */
export function openMidi(bytes: Uint8Array): { events: Placed[]; ticksPerQuarter: number } {
  let midi;
  try {
    midi = parseMidi(bytes);
  } catch (error) {
    throw new AudioFileError(
      `is no readable MIDI file (${error instanceof Error ? error.message : String(error)})`,
    );
  }
  const { ticksPerBeat: ticksPerQuarter, numTracks } = midi.header;
  // Its reader takes what is there for the whole: a tempo map would lose its changes.
  if (wholeTracks(bytes) < numTracks) throw new AudioFileError("is a MIDI file that breaks off");
  if (midi.tracks.length === 0) throw new AudioFileError("is no readable MIDI file (no tracks)");
  if (!ticksPerQuarter) throw new AudioFileError("counts in frames of film and holds no tempo");
  return { events: eventsOf(midi.tracks), ticksPerQuarter };
}
