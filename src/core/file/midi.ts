import { parseMidi, type MidiEvent } from "midi-file";
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

/**
 * Events of a Standard MIDI File on one time line.
 * Errors  AudioFileError in words that follow the file's name: no MIDI, no tracks, or a time line of film frames.
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
  const { ticksPerBeat: ticksPerQuarter } = midi.header;
  if (midi.tracks.length === 0) throw new AudioFileError("is no readable MIDI file (no tracks)");
  if (!ticksPerQuarter) throw new AudioFileError("counts in frames of film and holds no tempo");
  return { events: eventsOf(midi.tracks), ticksPerQuarter };
}
