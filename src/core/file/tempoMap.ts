import { parseMidi, type MidiEvent } from "midi-file";
import { median } from "../signal/level";
import type { Tempo } from "../song/song";
import { AudioFileError } from "./sampleFormat";

/** Microseconds of a quarter where no tempo is told: 120 bpm. Source  Standard MIDI Files 1.0, "Set Tempo". */
const usualQuarter = 500000;
/** Most beats that are made: an hour at 280 bpm. */
const mostBeats = 100000;

export interface TempoMap {
  readonly tempo: Tempo;
  /** Named places, s. */
  readonly markers: readonly { readonly time: number; readonly name: string }[];
}

/** True for a Standard MIDI File. */
export const isMidi = (head: Uint8Array): boolean =>
  head.length >= 4 && String.fromCharCode(...head.subarray(0, 4)) === "MThd";

interface Placed {
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
function clockOf(events: readonly Placed[], ticksPerQuarter: number): (tick: number) => number {
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
 * Tempo, meter and markers of a Standard MIDI File, with every beat up to the end of the song. In 6/8, 9/8 and 12/8 a beat is a dotted
 * quarter. The first meter holds for the whole song.
 * Errors  AudioFileError in words that follow the file's name.
 * Source  Standard MIDI Files 1.0: meta events 51 (tempo), 58 (meter), 06 (marker).
 */
export function readTempoMap(bytes: Uint8Array, durationSeconds: number): TempoMap {
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
  const events = eventsOf(midi.tracks);
  const meter = events.map((e) => e.event).find((e) => e.type === "timeSignature");
  const { numerator, denominator } =
    meter?.type === "timeSignature" ? meter : { numerator: 4, denominator: 4 };
  const compound = denominator === 8 && numerator % 3 === 0 && numerator > 3;
  const beatTicks = ((4 * ticksPerQuarter) / denominator) * (compound ? 3 : 1);
  const beatsPerBar = compound ? numerator / 3 : numerator;
  const clock = clockOf(events, ticksPerQuarter);
  const beats: number[] = [];
  for (let b = 0; b < mostBeats; b++) {
    const time = clock(b * beatTicks);
    if (time >= durationSeconds) break;
    beats.push(time);
  }
  if (beats.length < 2) throw new AudioFileError("holds no two beats within the song");
  const bpm = 60 / median(beats.slice(1).map((t, i) => t - beats[i]!));
  if (!(bpm >= 30 && bpm <= 300))
    throw new AudioFileError(`has a tempo of ${bpm.toFixed(1)} bpm; usable: 30 to 300`);
  const markerClock = clockOf(events, ticksPerQuarter);
  const markers = events.flatMap(({ tick, event }) =>
    event.type === "marker" ? [{ time: markerClock(tick), name: event.text }] : [],
  );
  return { tempo: { bpm, firstBeat: beats[0]!, beatsPerBar, beats }, markers };
}
