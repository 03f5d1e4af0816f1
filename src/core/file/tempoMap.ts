import { clockOf, openMidi, type Placed } from "./midi";
import { median } from "../signal/level";
import { plainTempo } from "../grid/steadyTempo";
import type { MeterChange, Tempo } from "../song/song";
import { AudioFileError } from "./sampleFormat";

/** Most beats that are made: an hour at 280 bpm. */
const mostBeats = 100000;

export interface TempoMap {
  readonly tempo: Tempo;
  /** Named places, s. */
  readonly markers: readonly { readonly time: number; readonly name: string }[];
}

interface Meter {
  readonly tick: number;
  readonly beatTicks: number;
  readonly beatsPerBar: number;
  readonly compound: boolean;
}

/** Meters along the song; 4/4 until one is told. */
function metersOf(events: readonly Placed[], ticksPerQuarter: number): Meter[] {
  const meters: Meter[] = [];
  const add = (tick: number, numerator: number, denominator: number): void => {
    const compound = denominator === 8 && numerator % 3 === 0 && numerator > 3;
    const beatTicks = ((4 * ticksPerQuarter) / denominator) * (compound ? 3 : 1);
    if (meters[meters.length - 1]?.tick === tick) meters.pop();
    meters.push({ tick, beatTicks, beatsPerBar: compound ? numerator / 3 : numerator, compound });
  };
  add(0, 4, 4);
  for (const { tick, event } of events)
    if (event.type === "timeSignature") add(tick, event.numerator, event.denominator);
  return meters;
}

/**
 * Tempo, meter and markers of a Standard MIDI File, with every beat up to the end of the song. In 6/8, 9/8 and 12/8 a beat is a dotted
 * quarter.
 * Errors  AudioFileError in words that follow the file's name.
 * Source  Standard MIDI Files 1.0: meta events 51 (tempo), 58 (meter), 06 (marker).
 */
export function readTempoMap(bytes: Uint8Array, durationSeconds: number): TempoMap {
  const { events, ticksPerQuarter } = openMidi(bytes);
  const clock = clockOf(events, ticksPerQuarter);
  const meters = metersOf(events, ticksPerQuarter);
  const beats: number[] = [];
  const changes: MeterChange[] = [];
  meters.forEach(({ tick, beatTicks, beatsPerBar, compound }, i) => {
    const end = meters[i + 1]?.tick ?? Infinity;
    if (i > 0) changes.push({ beat: beats.length, beatsPerBar, compound });
    for (let at = tick; at < end - 1e-6 && beats.length < mostBeats; at += beatTicks) {
      const time = clock(at);
      if (time >= durationSeconds) return;
      beats.push(time);
    }
  });
  if (beats.length < 2) throw new AudioFileError("holds no two beats within the song");
  const bpm = 60 / median(beats.slice(1).map((t, i) => t - beats[i]!));
  if (!(bpm >= 30 && bpm <= 300))
    throw new AudioFileError(`has a tempo of ${bpm.toFixed(1)} bpm; usable: 30 to 300`);
  const markerClock = clockOf(events, ticksPerQuarter);
  const markers = events.flatMap(({ tick, event }) =>
    event.type === "marker" ? [{ time: markerClock(tick), name: event.text }] : [],
  );
  const { beatsPerBar, compound } = meters[0]!;
  const tempo = {
    ...plainTempo,
    bpm,
    firstBeat: beats[0]!,
    beatsPerBar,
    compound,
    meters: changes.filter((c) => c.beat < beats.length),
    follows: true,
    beats,
  };
  return { tempo, markers };
}
