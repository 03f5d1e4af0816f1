import { describe, expect, test } from "@jest/globals";
import { dynamicResponseDb, movedResponseDb } from "../processors/dynamicEq/response";
import { applyAll, type Operation } from "../song/operations";
import type { Song } from "../song/song";
import { sameStructure } from "../song/structure";
import { testSong } from "../testing/songs";
import { largestDifference } from "../testing/signals";
import { blockFrames, Engine } from "./engine";
import { groupMics } from "./micBank";
import { memoryReader, renderSong } from "./renderSong";

async function render(song: Song, audio: Float32Array[][]): Promise<Record<string, Float32Array[]>> {
  const out: Record<string, Float32Array[]> = {};
  const at: Record<string, number> = {};
  const targets = { kit: true, stems: true, buses: true };
  await renderSong(song, memoryReader(audio), targets, (name, channels, frames) => {
    out[name] ??= channels.map(() => new Float32Array(song.frames));
    channels.forEach((x, ch) => out[name]![ch]!.set(x.subarray(0, frames), at[name] ?? 0));
    at[name] = (at[name] ?? 0) + frames;
  });
  return out;
}
const set = (
  owner: string,
  type: string,
  params: Record<string, number | string>,
  on?: boolean,
): Operation => ({
  op: "setProcessor",
  owner,
  processor: `${owner}.${type}`,
  params,
  ...(on === undefined ? {} : { on }),
});
const db = (x: number) => 20 * Math.log10(x + 1e-30);

describe("engine", () => {
  test("an untouched mono mic comes out 3.01 dB down on both sides and nowhere late", async () => {
    const { song, audio } = testSong();
    const { kit } = await render(
      applyAll(song, [
        { op: "setMic", mic: "snare", values: { muted: true } },
        { op: "setMic", mic: "oh", values: { muted: true } },
      ]),
      audio,
    );
    const wanted = audio[0]![0]!.map((v) => v * Math.SQRT1_2);
    expect(db(largestDifference(kit![0]!, wanted))).toBeLessThan(-120);
    expect(db(largestDifference(kit![1]!, wanted))).toBeLessThan(-120);
  });

  test("an untouched stem is the file bit for bit", async () => {
    const { song, audio } = testSong();
    const out = await render(song, audio);
    expect(out["stem:snare"]![0]).toEqual(audio[1]![0]);
    expect(out["stem:oh"]).toEqual(audio[2]);
  });

  // The null test: a parallel path that changes nothing, turned over, must cancel the dry one.
  test.each([
    ["parallel compression", "squash", [set("squash", "compressor", { mix: 0, makeup: 0 })]],
    [
      "parallel saturation",
      "grit",
      [set("grit", "eq", {}, false), set("grit", "saturation", { mix: 0, output: 0 })],
    ],
    ["a room at mix 0", "room", [set("room", "reverb", { mix: 0 })]],
  ] as [string, string, Operation[]][])(
    "%s arrives exactly with the dry path: null below -120 dB",
    async (_, bus, operations) => {
      const { song, audio } = testSong();
      const path: Operation[] = [
        ...operations,
        { op: "setBus", bus, values: { muted: false, level: 0 } },
        { op: "setSends", owner: "kick", sends: [{ bus, level: 0, from: "fader", followsPan: true }] },
        { op: "setMic", mic: "oh", values: { muted: true } },
        { op: "setMic", mic: "snare", values: { muted: true } },
      ];
      const dry = await render(applyAll(song, path.slice(operations.length + 2)), audio);
      const both = await render(applyAll(song, path), audio);
      const residue = both["kit"]![0]!.map((v, i) => v - 2 * dry["kit"]![0]![i]!);
      expect(db(Math.max(...residue.map(Math.abs)))).toBeLessThan(-120);
    },
  );

  test("every chain is compensated: a mic with saturation and gate stays in time with one without", async () => {
    const { song, audio } = testSong();
    const same = [audio[0]!, [audio[0]![0]!], audio[2]!];
    const busy = applyAll(song, [
      set("kick", "saturation", { mix: 0, output: 0 }, true),
      set("kick", "gate", { range: 0 }, true),
      set("kick", "delay", { delay: 0 }),
      { op: "setMic", mic: "oh", values: { muted: true } },
    ]);
    const out = await render(busy, same);
    expect(db(largestDifference(out["stem:kick"]![0]!, out["stem:snare"]![0]!))).toBeLessThan(-120);
  });

  test("a processor that returns no number is taken out and named, the rest plays on", () => {
    const { song, audio } = testSong();
    const engine = Engine.of(applyAll(song, [set("kick", "compressor", {}, true)]));
    const { chain, owner } = engine.bank.nodes[0]!;
    const { slot, index } = chain
      .seats(owner)
      .find((s) => s.slot.handles[s.index]!.id === "kick.compressor")!;
    const { memory, owners } = (
      slot as unknown as { format: { memory: { buffer: ArrayBuffer }; owners: { first: number }[] } }
    ).format;
    const { buffer } = memory;
    const lane = owners[index]!.first;
    slot.processor.process = (x) => (new Float32Array(buffer, x, 4 * blockFrames)[4 * 50 + lane] = NaN);
    const out = engine.mixer.output;
    for (let b = 0; b < 60; b++)
      engine.process(
        audio.map((mic) => mic.map((x) => x.subarray(b * 128, b * 128 + 128))),
        b * 128,
      );
    expect(engine.failed).toEqual(["kick.compressor"]);
    expect(out[0]!.every((v) => Number.isFinite(v))).toBe(true);
    expect(Math.max(...out[0]!)).toBeGreaterThan(0.1);
    expect(engine.takePeak(0)).toBeGreaterThan(0.1); // the kick itself plays on without the processor
  });

  test("a value that differs in a section moves at its border without a step, and is there at once after a jump", () => {
    const { song, audio } = testSong(48000);
    const tone = audio.map((mic, m) =>
      mic.map((x) => x.map((_, i) => (m === 0 ? 0.5 * Math.sin(i / 30) : 0))),
    );
    const varied = applyAll(song, [
      { op: "setSong", values: { sections: [{ id: "quiet", name: "quiet", from: 0.5, to: 0.8 }] } },
      { op: "setProcessor", owner: "kick", processor: "kick.trim", bySection: { quiet: { gain: -20 } } },
    ]);
    const engine = Engine.of(varied);
    const blockAt = (at: number) => tone.map((mic) => mic.map((x) => x.subarray(at, at + blockFrames)));
    const heard: number[] = [];
    for (let at = 0; at + blockFrames <= 48000; at += blockFrames) {
      engine.process(blockAt(at), at);
      heard.push(...engine.mixer.output[0]!);
    }
    const level = (from: number) =>
      Math.max(...heard.slice(from + engine.latency, from + engine.latency + 480));
    expect(db(level(20000) / level(12000))).toBeCloseTo(0, 1);
    expect(db(level(30000) / level(12000))).toBeCloseTo(-20, 1);
    expect(db(level(42000) / level(12000))).toBeCloseTo(0, 1);
    // No step is larger than the tone's own slope.
    const steps = heard.map((v, i) => (i ? Math.abs(v - heard[i - 1]!) : 0));
    expect(Math.max(...steps)).toBeLessThan((0.5 / 30) * Math.SQRT1_2 * 1.05);
    // The border is hit to within a block and the glide.
    const first = heard.findIndex(
      (_, i) => i > 15000 + engine.latency && i % 94 === 0 && level(i - engine.latency) < 0.25,
    );
    expect(Math.abs(first - engine.latency - 24000)).toBeLessThan(1200);
    engine.reset(30000);
    for (let at = 30000; at < 30000 + 40 * blockFrames; at += blockFrames)
      engine.process(blockAt(at - (at % 1)), at);
    expect(Math.max(...engine.mixer.output[0]!)).toBeLessThan(0.05);
  });

  test("music that is no drum is heard beside the kit and is no part of it", async () => {
    const { song, audio } = testSong();
    const alone = applyAll(song, [
      { op: "setMic", mic: "kick", values: { piece: "context" } },
      { op: "setMic", mic: "snare", values: { muted: true } },
      { op: "setMic", mic: "oh", values: { muted: true } },
    ]);
    const { kit } = await render(alone, audio);
    expect(Math.max(...kit![0]!.map(Math.abs))).toBe(0);
    const engine = Engine.of(alone);
    for (let b = 0; b < 60; b++)
      engine.process(
        audio.map((mic) => mic.map((x) => x.subarray(b * 128, b * 128 + 128))),
        b * 128,
      );
    expect(Math.max(...engine.mixer.contextOutput[0]!)).toBeGreaterThan(0.1);
  });

  test("groups hold at most four lanes, and which mics share one changes no sample", async () => {
    const { song, audio } = testSong();
    expect(groupMics(song)).toEqual([[2, 0, 1]]);
    const alone = { ...song, mics: [song.mics[1]!] };
    const together = await render(song, audio);
    const apart = await render(alone, [audio[1]!]);
    expect(largestDifference(together["stem:snare"]![0]!, apart["stem:snare"]![0]!)).toBe(0);
  });
});

describe("loops", () => {
  // A loop's end and start lie far apart in the song, but in the chain one follows the other within its latency.
  const loop = { from: 9600, to: 19200 };
  /** Plays a song round the loop three times after a run-in; returns the left channel of the last round as heard. */
  function lastRound(song: Song, audio: Float32Array[][]): Float32Array {
    const engine = Engine.of(song);
    const blocks = (loop.to - loop.from) / blockFrames;
    engine.reset(loop.from);
    const heard = new Map<number, Float32Array>();
    for (let b = 0; b < 4 * blocks; b++) {
      const position = loop.from + (b % blocks) * blockFrames;
      engine.process(
        audio.map((mic) => mic.map((x) => x.subarray(position, position + blockFrames))),
        position,
      );
      heard.set(engine.playhead, engine.mixer.output[0]!.slice());
    }
    const out = new Float32Array(loop.to - loop.from);
    for (const [at, y] of heard) {
      const room = Math.min(y.length, loop.to - at);
      if (at >= loop.from && room > 0) out.set(y.subarray(0, room), at - loop.from);
    }
    return out;
  }
  const power = (x: Float32Array) => 10 * Math.log10(x.reduce((s, v) => s + v * v, 0) / x.length + 1e-30);
  const alone: Operation[] = ["kick", "oh"].map((mic) => ({ op: "setMic", mic, values: { muted: true } }));

  test("a gate opened by hits opens at a hit just before the end of the loop, and not at one just before its start", () => {
    const { song, audio } = testSong(40000);
    const hit = (time: number) => ({
      piece: "snare" as const,
      time,
      levelDb: -8,
      ghost: false,
      kind: "stroke" as const,
      sure: 1,
    });
    const gated = applyAll(song, [
      ...alone,
      set("snare", "saturation", {}, true), // a latency before the fader
      set("snare", "gate", { opens: "hits", range: 80, hold: 0.01, release: 0.01, attack: 0.0005 }, true),
      // One 21 ms before the loop's start, which is never played, and one 31 ms before its end.
      { op: "setSong", values: { hits: [hit((loop.from - 1000) / 48000), hit((loop.to - 1500) / 48000)] } },
    ]);
    const round = lastRound(gated, audio);
    expect(power(round.subarray(8100, 8500))).toBeGreaterThan(-30);
    expect(power(round.subarray(2000, 8000))).toBeLessThan(-60);
  });
  test("a level of a section holds to the end of the loop and not beyond its start", () => {
    const { song, audio } = testSong(40000);
    const quiet = applyAll(song, [
      ...alone,
      set("snare", "saturation", {}, true),
      {
        op: "setSong",
        values: { sections: [{ id: "end", name: "end", from: 14400 / 48000, to: loop.to / 48000 }] },
      },
      { op: "setMic", mic: "snare", values: { levelBySection: { end: -40 } } },
    ]);
    const round = lastRound(quiet, audio);
    const step = power(round.subarray(400, 4500)) - power(round.subarray(5200, 9600 - 128));
    expect(step).toBeCloseTo(40, 0);
    expect(power(round.subarray(9600 - 640, 9600 - 128)) - power(round.subarray(5200, 8000))).toBeLessThan(3);
  });
});

describe("a key from another mic", () => {
  const frames = 48000;
  const { song, audio } = testSong(frames);
  // The kick sounds in the first half only; the snare all the time, ten times as quiet as the gate's threshold.
  const mics = [
    [audio[0]![0]!.map((v, i) => (i < frames / 2 ? v : 0))],
    [audio[1]![0]!.map((v) => 0.002 * v)],
    audio[2]!,
  ];
  const gated = applyAll(song, [
    set(
      "snare",
      "gate",
      { opens: "level", threshold: -30, hysteresis: 3, range: 60, hold: 0.01, release: 0.01 },
      true,
    ),
  ]);
  const keyed = applyAll(gated, [
    { op: "setProcessor", owner: "snare", processor: "snare.gate", key: "kick" },
  ]);
  const power = (x: Float32Array, from: number, to: number) =>
    db(Math.sqrt(x.slice(from, to).reduce((s, v) => s + v * v, 0) / (to - from)));

  test("the gate of one mic is opened by what another hears, and by nothing else", async () => {
    const own = (await render(gated, mics))["stem:snare"]![0]!;
    const out = (await render(keyed, mics))["stem:snare"]![0]!;
    const raw = mics[1]![0]!;
    expect(power(own, 12000, 20000) - power(raw, 12000, 20000)).toBeLessThan(-55);
    expect(Math.abs(power(out, 12000, 20000) - power(raw, 12000, 20000))).toBeLessThan(0.1);
    expect(power(out, 36000, 44000) - power(raw, 36000, 44000)).toBeLessThan(-55);
  });
  test("other mics keep their samples; the mic with a key runs apart; a key that is not there is refused", async () => {
    const [a, b] = [await render(gated, mics), await render(keyed, mics)];
    expect(largestDifference(a["stem:kick"]![0]!, b["stem:kick"]![0]!)).toBe(0);
    expect(groupMics(keyed).find((g) => g.includes(1))).toEqual([1]);
    const gone = { op: "setProcessor", owner: "snare", processor: "snare.gate", key: "gone" } as const;
    expect(() => applyAll(gated, [gone])).toThrow('snare.wav listens to "gone"');
  });
  test("live and offline agree, and both songs need engines of their own", async () => {
    const engine = Engine.of(keyed);
    engine.reset(0);
    const live = new Float32Array(frames + 4096);
    for (let at = 0; at + blockFrames <= live.length; at += blockFrames) {
      const block = mics.map((m) =>
        m.map((x) => {
          const b = new Float32Array(blockFrames);
          b.set(x.subarray(Math.min(at, frames), Math.min(frames, at + blockFrames)));
          return b;
        }),
      );
      engine.process(block, at);
      live.set(engine.mixer.output[0]!, at);
    }
    const { kit } = await render(keyed, mics);
    const heard = live.subarray(engine.latency, frames);
    expect(largestDifference(heard, kit![0]!.subarray(0, heard.length))).toBe(0);
    expect(sameStructure(gated, keyed)).toBe(false);
  });
});

describe("gains of bands while it plays", () => {
  const { song, audio } = testSong(24000);
  const eq = applyAll(song, [
    set(
      "snare",
      "dynamicEq",
      {
        opens: "hits",
        highGain: -18,
        highRange: 12,
        highHold: 0.05,
        band4Shape: "bell",
        band4Gain: 3,
        band4Range: 0,
      },
      true,
    ),
  ]);
  const gains = new Float64Array(20);
  /** Plays up to a moment, s, and reads the gains. */
  function gainsAt(seconds: number, id: string): number[] {
    const engine = Engine.of(eq);
    engine.reset(0);
    for (let at = 0; at < seconds * 48000 + engine.latency; at += blockFrames)
      engine.process(
        audio.map((m) =>
          m
            .map((x) => x.slice(at, at + blockFrames))
            .map((x) => (x.length === blockFrames ? x : new Float32Array(blockFrames))),
        ),
        at,
      );
    engine.bandGains(id, gains);
    return Array.from(gains.subarray(0, 5));
  }
  test("at rest, moved by a stroke, and none where a band is off or there are no bands", () => {
    const rest = gainsAt(0.1, "snare.dynamicEq");
    expect(rest[0]).toBeNaN(); // the low band is off
    expect(rest[1]).toBeCloseTo(-18, 2);
    expect(rest[3]).toBeCloseTo(3, 2);
    expect(gainsAt(0.22, "snare.dynamicEq")[1]).toBeCloseTo(-6, 1);
    for (const id of ["snare.gate", "snare.pan", "kick.dynamicEq", "nobody"])
      expect(gainsAt(0.1, id).every(Number.isNaN)).toBe(true);
  });
  test("the response is that of the bands where they stand", () => {
    const { params } = eq.mics[1]!.chain.find((p) => p.type === "dynamicEq")!;
    const here = Array.from(gainsAt(0.1, "snare.dynamicEq"));
    for (const f of [100, 700, 4000])
      expect(movedResponseDb(params, here, f, 48000)).toBeCloseTo(dynamicResponseDb(params, 0, f, 48000), 1);
    expect(movedResponseDb(params, [], 700, 48000)).toBe(0);
  });
});
