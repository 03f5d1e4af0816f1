import { describe, expect, test } from "@jest/globals";
import { newBus, newProcessor } from "../song/create";
import { withFree } from "../song/chain";
import { applyAll, type Operation } from "../song/operations";
import { routed } from "../song/routes";
import type { ProcessorState, Song } from "../song/song";
import { largestDifference } from "../testing/signals";
import { testMic, testSong } from "../testing/songs";
import { blockFrames, Engine } from "./engine";
import { memoryReader, renderSong } from "./renderSong";

const frames = 24000;
const { song: plain, audio } = testSong(frames);
const db = (v: number) => 20 * Math.log10(Math.max(1e-12, v));
async function render(song: Song): Promise<Record<string, Float32Array[]>> {
  const out: Record<string, Float32Array[]> = {};
  const at: Record<string, number> = {};
  await renderSong(
    song,
    memoryReader(audio),
    { kit: true, stems: true, buses: true },
    (name, channels, n) => {
      out[name] ??= channels.map(() => new Float32Array(song.frames));
      channels.forEach((x, ch) => out[name]![ch]!.set(x.subarray(0, n), at[name] ?? 0));
      at[name] = (at[name] ?? 0) + n;
    },
  );
  return out;
}
const more = (
  owner: string,
  type: string,
  params: ProcessorState["params"] = {},
  id = `${owner}.more`,
): ProcessorState => ({ ...newProcessor(owner, type, true, params), id });
const chain = (song: Song, owner: string, ...free: ProcessorState[]): Operation => {
  const found = [...song.mics, ...song.buses].find((o) => o.id === owner)!;
  return { op: "setChain", owner, chain: withFree(found.chain, free) };
};
const send = (bus: string, values: object = {}) => ({
  bus,
  level: 0,
  from: "fader" as const,
  followsPan: true,
  ...values,
});
const sends = (owner: string, ...list: ReturnType<typeof send>[]): Operation => ({
  op: "setSends",
  owner,
  sends: list,
});
const difference = (a: Float32Array[], b: Float32Array[]): number =>
  db(Math.max(...a.map((x, ch) => largestDifference(x, b[ch]!))));
const negative = (x: Float32Array[]) => x.map((y) => y.map((v) => -v));

describe("buses that feed buses", () => {
  const grouped = applyAll(plain, [
    {
      op: "addBuses",
      buses: [newBus("shells", "Shells", "group"), newBus("inner", "Inner", "group", { output: "shells" })],
    },
    { op: "setMic", mic: "kick", values: { output: "inner" } },
    { op: "setMic", mic: "snare", values: { output: "shells" } },
  ]);

  test("through empty buses the kit is the same, to a rounding of the sums", async () => {
    const [a, b] = [await render(plain), await render(grouped)];
    expect(difference(a["kit"]!, b["kit"]!)).toBeLessThan(-130);
    expect(
      difference(
        b["bus:inner"]!,
        (
          await render(
            applyAll(
              plain,
              ["snare", "oh"].map((mic): Operation => ({ op: "setMic", mic, values: { muted: true } })),
            ),
          )
        )["kit"]!,
      ),
    ).toBeLessThan(-130);
  });

  test("whatever is late on one way, all ways arrive together: null below -120 dB", async () => {
    // Saturation at drive 0 and mix 0 changes nothing and takes its time; it stands at another place on every way.
    const still = { mix: 0, output: 0, drive: 0 };
    const late = applyAll(grouped, [
      chain(grouped, "inner", more("inner", "saturation", still)),
      chain(
        grouped,
        "snare",
        more("snare", "saturation", still),
        more("snare", "saturation", still, "snare.again"),
      ),
      sends("shells", send("room", { from: "chain" })),
      chain(grouped, "room", more("room", "saturation", still)),
      { op: "setBus", bus: "room", values: { muted: false, level: 0 } },
    ]);
    const dry = (await render(plain))["kit"]!;
    const shells = (await render(applyAll(plain, [{ op: "setMic", mic: "oh", values: { muted: true } }])))[
      "kit"
    ]!;
    const wanted = dry.map((x, ch) => x.map((v, i) => v + shells[ch]![i]!));
    expect(difference((await render(late))["kit"]!, wanted)).toBeLessThan(-120);
  });

  test("sends are taken before the chain, behind it, or behind the fader; with the pan or without", async () => {
    const base = applyAll(plain, [
      chain(plain, "kick", more("kick", "compressor", { threshold: 0, makeup: 6 })),
      { op: "setProcessor", owner: "kick", processor: "kick.pan", params: { position: -100 } },
      { op: "setMic", mic: "kick", values: { level: -20 } },
      chain(plain, "grit"),
      { op: "setBus", bus: "grit", values: { muted: false, level: 0 } },
    ]);
    const heard = async (values: object) =>
      (await render(applyAll(base, [sends("kick", send("grit", values))])))["bus:grit"]!;
    const peak = (x: Float32Array) =>
      db(Math.max(...x.map(Math.abs))) - db(Math.max(...audio[0]![0]!.map(Math.abs)));
    const levels = async (values: object) => (await heard(values)).map(peak);
    expect((await levels({}))[0]).toBeCloseTo(-14, 1);
    expect((await levels({}))[1]).toBeLessThan(-200);
    expect((await levels({ from: "chain" }))[0]).toBeCloseTo(6, 1);
    expect((await levels({ from: "input" }))[0]).toBeCloseTo(0, 1);
    const centred = await levels({ from: "chain", followsPan: false });
    expect(centred[0]).toBeCloseTo(6 - 3.01, 1);
    expect(centred[1]).toBeCloseTo(6 - 3.01, 1);
    expect((await levels({ from: "input", followsPan: false, level: -3 }))[1]).toBeCloseTo(-6.01, 1);
    // Before its chain means before what is free: polarity and delay are there.
    const turned = applyAll(base, [
      sends("kick", send("grit", { from: "input" })),
      { op: "setProcessor", owner: "kick", processor: "kick.polarity", params: { polarity: "inverted" } },
    ]);
    const [a, b] = [(await render(turned))["bus:grit"]!, await heard({ from: "input" })];
    expect(difference(a, negative(b))).toBeLessThan(-140);
  });

  test("a bus's width and balance: mono, wider, to one side; plain changes nothing to the bit", async () => {
    const of = async (values: object) =>
      (
        await render(
          applyAll(grouped, [
            { op: "setMic", mic: "oh", values: { output: "shells" } },
            { op: "setBus", bus: "shells", values },
          ]),
        )
      )["bus:shells"]!;
    const flat = await of({});
    const [left, right] = await of({ width: 0 });
    expect(largestDifference(left!, right!)).toBe(0);
    expect(difference([left!], [flat[0]!.map((v, i) => 0.5 * (v + flat[1]![i]!))])).toBeLessThan(-130);
    const side = (x: Float32Array[]) => x[0]!.map((v, i) => v - x[1]![i]!);
    expect(difference([side(await of({ width: 200 }))], [side(flat).map((v) => 2 * v)])).toBeLessThan(-125);
    expect(db(Math.max(...(await of({ pan: -100 }))[1]!.map(Math.abs)))).toBeLessThan(-200);
  });
});

describe("keys", () => {
  const ducked = { threshold: -30, ratio: 20, attack: 0.0005, release: 0.02 };
  test("a bus is turned down by a mic, and by another bus, in time with it", async () => {
    const squeezed = applyAll(plain, [
      { op: "addBuses", buses: [newBus("far", "Far", "group"), newBus("near", "Near", "group")] },
      { op: "setMic", mic: "oh", values: { output: "far" } },
      { op: "setMic", mic: "kick", values: { output: "near" } },
      chain(
        { ...plain, buses: [...plain.buses, newBus("far", "Far", "group")] },
        "far",
        more("far", "compressor", ducked),
      ),
    ]);
    const by = (key: string | null, extra: Operation[] = []) =>
      render(
        applyAll(squeezed, [...extra, { op: "setProcessor", owner: "far", processor: "far.more", key }]),
      );
    const mic = (await by("kick"))["bus:far"]!;
    const bus = (await by("near"))["bus:far"]!;
    const own = (await by(null))["bus:far"]!;
    // The bus hears the kick panned to the middle as the mic's key does.
    expect(difference(mic, bus)).toBeLessThan(-60);
    expect(difference(mic, own)).toBeGreaterThan(-40);
    // What makes the key's way longer moves nothing: key and bus wait for each other.
    const still = more("kick", "saturation", { mix: 0, output: 0, drive: 0 });
    expect(difference((await by("kick", [chain(squeezed, "kick", still)]))["bus:far"]!, mic)).toBeLessThan(
      -120,
    );
  });
  test("a mic can listen to a bus: it waits for it, and everything still arrives together", async () => {
    const late = applyAll(plain, [
      chain(plain, "oh", more("oh", "gate", { opens: "level", threshold: -60, range: 60 }, "oh.gate")),
      { op: "setProcessor", owner: "oh", processor: "oh.gate", key: "grit" },
      sends("snare", send("grit")),
      { op: "setBus", bus: "grit", values: { muted: true } },
    ]);
    const open = applyAll(late, [{ op: "setProcessor", owner: "oh", processor: "oh.gate", on: false }]);
    const [a, b, dry] = [await render(late), await render(open), await render(plain)];
    expect(difference(b["kit"]!, dry["kit"]!)).toBeLessThan(-130);
    expect(difference(b["stem:oh"]!, dry["stem:oh"]!)).toBeLessThan(-130);
    // Noise goes to the bus all the time, so the gate is open, once it has opened.
    expect(
      difference(
        a["stem:oh"]!.map((x) => x.subarray(4800)),
        dry["stem:oh"]!.map((x) => x.subarray(4800)),
      ),
    ).toBeLessThan(-60);
    const shut = applyAll(late, [{ op: "setMic", mic: "snare", values: { muted: true } }]);
    expect(db(Math.max(...(await render(shut))["stem:oh"]![0]!.subarray(12000).map(Math.abs)))).toBeLessThan(
      -50,
    );
  });
});

describe("engine of a whole graph", () => {
  const kit = routed({
    ...plain,
    mics: [...plain.mics, { ...testMic("out", "kick", "out", frames), level: -4 }],
  });
  const parts = [...audio, [audio[1]![0]!.map((v) => 0.5 * v)]];
  const busy = applyAll(kit, [
    chain(
      kit,
      "drum-kick",
      more("drum-kick", "compressor", { threshold: -30 }),
      more("drum-kick", "eq", { bell1Gain: 4 }, "k.eq"),
    ),
    chain(
      kit,
      "snare",
      more("snare", "eq", { bell1Gain: -6 }),
      more("snare", "saturation", {}, "s.sat"),
      more("snare", "eq", { bell2Gain: 3 }, "s.eq2"),
    ),
    chain(kit, "cymbals", more("cymbals", "compressor", { threshold: -20 })),
    chain(kit, "shells", more("shells", "compressor", { threshold: -25 })),
    { op: "setProcessor", owner: "cymbals", processor: "cymbals.more", key: "shells" },
    chain(kit, "oh", more("oh", "gate", { opens: "level", threshold: -60 })),
    { op: "setProcessor", owner: "oh", processor: "oh.more", key: "drum-kick" },
    sends("shells", send("squash", { from: "input" }), send("room", { from: "chain", level: -9 })),
    sends("snare", send("grit", { from: "input", followsPan: false })),
    ...["squash", "grit", "room"].map((bus): Operation => ({ op: "setBus", bus, values: { muted: false } })),
  ]);

  test("live and offline give the same samples, and equal chains side by side change none", async () => {
    const engine = Engine.of(busy);
    engine.reset(0);
    const live = new Float32Array(frames + 8192);
    for (let at = 0; at + blockFrames <= live.length; at += blockFrames) {
      const block = parts.map((m) =>
        m.map((x) => {
          const b = new Float32Array(blockFrames);
          b.set(x.subarray(Math.min(at, frames), Math.min(frames, at + blockFrames)));
          return b;
        }),
      );
      engine.process(block, at);
      live.set(engine.mixer.output[0]!, at);
    }
    const kitOut = new Float32Array(frames);
    let at = 0;
    await renderSong(
      busy,
      memoryReader(parts),
      { kit: true, stems: false, buses: false },
      (_, channels, n) => {
        kitOut.set(channels[0]!.subarray(0, n), at);
        at += n;
      },
    );
    expect(Math.max(...kitOut.map(Math.abs))).toBeGreaterThan(0.1);
    expect(largestDifference(live.subarray(engine.latency, engine.latency + frames), kitOut)).toBe(0);
  });

  test("a drum that is heard alone keeps its sends; what feeds it is heard through it alone", async () => {
    const alone = (id: string, more: Operation[] = []) =>
      render(applyAll(grouped(), [{ op: "setBus", bus: id, values: { soloed: true } }, ...more]));
    const grouped = () =>
      applyAll(plain, [
        { op: "addBuses", buses: [newBus("drum", "Drum", "drum", { piece: "kick" })] },
        { op: "setMic", mic: "kick", values: { output: "drum" } },
        chain(plain, "grit"),
        { op: "setBus", bus: "grit", values: { muted: false, level: 0 } },
        sends("drum", send("grit", { level: -6 })),
        sends("snare", send("grit")),
      ]);
    const only = await alone("drum");
    const wanted = audio[0]![0]!.map((v) => Math.SQRT1_2 * v * (1 + Math.pow(10, -6 / 20)));
    expect(difference([only["kit"]![0]!], [wanted])).toBeLessThan(-120);
    const path = await alone("grit");
    const fed = audio[0]![0]!.map((v, i) => Math.SQRT1_2 * (v * Math.pow(10, -6 / 20) + audio[1]![0]![i]!));
    expect(difference([path["kit"]![0]!], [fed])).toBeLessThan(-120);
  });
});
