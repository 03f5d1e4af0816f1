import { DelayLine } from "../signal/delayLine";
import { kitOf, ownerOf, type Owner } from "../song/graph";
import { newBus } from "../song/create";
import { freeBusId } from "../song/parallelCopy";
import type { Bus, Mic, Song } from "../song/song";
import { blockwise } from "./blockwise";
import { fedAlone } from "./busInput";
import { Engine } from "./engine";

/** The song with a bus more that gets what one of its mics or buses gives behind its fader; the id of that bus. */
function listeningTo(song: Song, id: string): { song: Song; bus: string } {
  const bus = freeBusId(song, "heard");
  const heard = <T extends Owner>(owner: T): T =>
    owner.id === id
      ? { ...owner, sends: [...owner.sends, { bus, level: 0, from: "fader", followsPan: true } as const] }
      : owner;
  const mics = song.mics.map((m): Mic => heard(m));
  const buses = song.buses.map((b): Bus => heard(b));
  const beside = newBus(bus, "Heard", "parallel", { output: kitOf(song).id });
  return { bus, song: { ...song, mics, buses: [beside, ...buses] } };
}

/**
 * What several mics or buses give behind their faders over a stretch of the recording, in time with each other, latency taken
 * off; as `busInput`. The kit itself cannot be among them: nothing comes behind it.
 * Shape   stretch [mic][channel] as recorded, equally long, from song frame `from` on; result [asked][channel].
 * Errors  RangeError for one that is not there, and for the kit.
 */
export function heardTogether(
  song: Song,
  ids: readonly string[],
  stretch: readonly (readonly Float32Array[])[],
  from: number,
): Float32Array[][] {
  let listening = song;
  const buses = ids.map((id) => {
    const owner = ownerOf(song, id);
    if (!owner || owner.output === null)
      throw new RangeError(`the song has no mic or bus "${id}" before its kit`);
    const made = listeningTo(listening, id);
    listening = made.song;
    return made.bus;
  });
  const engine = Engine.of(fedAlone(listening, ...buses));
  engine.reset(from);
  const lates = buses.map((bus) => engine.mixer.busOutput(bus).latency);
  const latest = Math.max(...lates);
  const lines = lates.map((late) => [0, 1].map(() => new DelayLine(latest - late)));
  return blockwise(stretch, latest, (block, at) => {
    engine.process(block, from + at);
    return buses.map((bus, b) =>
      engine.mixer.busOutput(bus).buffers.map((x, ch) => {
        const y = new Float32Array(x.length);
        lines[b]![ch]!.process(x, y, x.length);
        return y;
      }),
    );
  });
}
