import { expect, test } from "@jest/globals";
import { writeMidi, type MidiData } from "midi-file";
import { newProcessor } from "../../core/song/create";
import { pool } from "../db/pool";
import { AppError } from "../errors";
import { bring, songOf, wavOf, withDatabase } from "../testing/database";
import { createSong } from "./createSong";
import { openSong, stepHistory } from "./editSong";
import { importTempoMap } from "./importTempoMap";
import { giveUp, keep, keptChains } from "./keptChains";

withDatabase("chains that are kept for all songs", () => {
  const chain = [newProcessor("m1", "eq", true, { bell1Gain: 3 }), newProcessor("m1", "compressor", true)];
  const own = async () => (await keptChains()).filter((c) => c.name.startsWith("test "));
  test("are found by name, without what belongs to one song, and replaced under the same name", async () => {
    const keyed = { ...chain[1]!, key: "m2", bySection: { verse: { threshold: -30 } } };
    await keep("test Snare", [chain[0]!, keyed]);
    const [first] = await own();
    expect(first!.chain.map((p) => Object.keys(p).sort())).toEqual([
      ["id", "on", "params", "type"],
      ["id", "on", "params", "type"],
    ]);
    expect(first!.chain[0]!.params["bell1Gain"]).toBe(3);
    const again = await keep("test Snare", [chain[1]!]);
    expect(again.id).toBe(first!.id);
    expect((await own()).map((c) => c.chain.length)).toEqual([1]);
  });
  test("are listed by name whatever the capitals, and given up once", async () => {
    await keep("test b", chain);
    const a = await keep("test A", chain);
    expect((await own()).map((c) => c.name)).toEqual(["test A", "test b", "test Snare"]);
    await giveUp(a.id);
    await expect(giveUp(a.id)).rejects.toThrow("not kept any more");
    for (const c of await own()) await giveUp(c.id);
  });
  test("of a former format they come up as today's", async () => {
    await pool().query("insert into kept_chain (name, chain, format) values ('test old', $1, 5)", [
      JSON.stringify([{ id: "x", type: "compressor", on: true, params: { threshold: -20, ratio: 4 } }]),
    ]);
    const [old] = await own();
    expect(old!.chain[0]!.params).toMatchObject({ threshold: -20, ratio: 4 });
    expect(Object.keys(old!.chain[0]!.params).length).toBeGreaterThan(5);
    await giveUp(old!.id);
  });
});

/** A MIDI file with a tempo, a meter and markers at quarters. */
const midiFile = (bpm: number, markers: readonly [number, string][] = []): Uint8Array => {
  const track: MidiData["tracks"][number] = [
    { deltaTime: 0, meta: true, type: "setTempo", microsecondsPerBeat: 60e6 / bpm },
    {
      deltaTime: 0,
      meta: true,
      type: "timeSignature",
      numerator: 3,
      denominator: 4,
      metronome: 24,
      thirtyseconds: 8,
    },
  ];
  let last = 0;
  for (const [quarter, text] of markers) {
    track.push({ deltaTime: (quarter - last) * 480, meta: true, type: "marker", text });
    last = quarter;
  }
  track.push({ deltaTime: 0, meta: true, type: "endOfTrack" });
  return Uint8Array.from(
    writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: 480 }, tracks: [track] }),
  );
};
withDatabase("a tempo map that comes in", () => {
  async function song(title: string): Promise<string> {
    const id = await createSong(title);
    await bring(id, "Kick.wav", wavOf(8 * 8000, 500, 8000));
    return id;
  }
  test("brings tempo, meter and sections in one step of undo", async () => {
    const id = await song("mapped");
    const { remarks } = await importTempoMap(
      id,
      "map.mid",
      midiFile(90, [
        [0, "Verse"],
        [6, "Chorus"],
      ]),
    );
    expect(remarks).toEqual(["90.00 bpm, 3 beats to the bar", "2 sections from its markers"]);
    const mapped = await songOf(id);
    expect(mapped.tempo).toMatchObject({ beatsPerBar: 3 });
    expect(mapped.tempo!.bpm).toBeCloseTo(90, 3);
    expect(mapped.sections.map((s) => s.name)).toEqual(["Verse", "Chorus"]);
    expect(mapped.sections[1]!.from).toBeCloseTo(4, 3);
    const { version } = await openSong(id);
    const back = await stepHistory(id, version, "undo");
    expect([back.song.tempo, back.song.sections]).toEqual([null, []]);
  });
  test("leaves sections alone that are there already", async () => {
    const id = await song("sections stay");
    await importTempoMap(id, "first.mid", midiFile(100, [[0, "A"]]));
    const { remarks } = await importTempoMap(
      id,
      "second.mid",
      midiFile(120, [
        [0, "B"],
        [3, "C"],
      ]),
    );
    expect(remarks).toHaveLength(1);
    const now = await songOf(id);
    expect(now.sections.map((s) => s.name)).toEqual(["A"]);
    expect(now.tempo!.bpm).toBeCloseTo(120, 3);
  });
  test("is refused with words for a song without audio, and when it is broken", async () => {
    const empty = await createSong("no audio yet");
    const early = await importTempoMap(empty, "map.mid", midiFile(90)).catch((e: unknown) => e);
    expect(early).toBeInstanceOf(AppError);
    expect((early as Error).message).toContain("bring in the audio first");
    const id = await song("broken map");
    for (const bytes of [Buffer.from("MThd"), midiFile(90).subarray(0, 20), Buffer.alloc(0)]) {
      const broken = await importTempoMap(id, "bad.mid", bytes).catch((e: unknown) => e);
      expect(broken).toBeInstanceOf(AppError);
      expect((broken as Error).message).toMatch(/^bad\.mid .*It was left out; everything else is safe\.$/s);
    }
    expect((await songOf(id)).tempo).toBeNull();
  });
});
