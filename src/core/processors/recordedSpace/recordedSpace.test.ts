import { afterEach, describe, expect, test } from "@jest/globals";
import { processChain } from "../../engine/processChain";
import { responses } from "../../engine/responses";
import { resolveParams } from "../../params";
import { plainContext } from "../../processor";
import { partitionResponse } from "../../signal/partitionedResponse";
import { newBus, newMic, newProcessor } from "../../song/create";
import { applyAll, applyOperation } from "../../song/operations";
import { readSong } from "../../song/songFile";
import { renderedKit } from "../../testing/renderedKit";
import { run, rate } from "../../testing/runProcessor";
import { impulse, noise, sine } from "../../testing/signals";
import { testSong } from "../../testing/songs";
import { recordedSpace } from ".";

afterEach(() => responses.clear());
const none = new Float64Array(0);
/** A chain of one recorded space that answers with a response, over a sound. */
function through(
  values: Record<string, number>,
  response: Float32Array[],
  input: Float32Array[],
): Float32Array[] {
  responses.putAudio("ir", response, rate);
  const state = { ...newProcessor("x", "recordedSpace", true, values), response: "ir" };
  return processChain([state], input, rate, none);
}

describe("recorded space", () => {
  test("one frame comes out as the response, left with its first channel, right with its second", () => {
    const [l, r] = [noise(3000, 1, 0.3), noise(3000, 2, 0.3)];
    const y = through({}, [l, r], [impulse(8192)]);
    for (let i = 0; i < 3000; i++) {
      expect(y[0]![i]).toBeCloseTo(l[i]!, 6);
      expect(y[1]![i]).toBeCloseTo(r[i]!, 6);
    }
  });
  test("pre-delay, level and width: later, louder, mono", () => {
    const [l, r] = [noise(300, 1, 0.3), noise(300, 2, 0.3)];
    const y = through({ predelay: 0.01, level: 6.0206, width: 0 }, [l, r], [impulse(8192)]);
    expect(y[0]!.slice(0, 480).every((v) => v === 0)).toBe(true);
    for (let i = 0; i < 300; i++) expect(y[0]![480 + i]).toBeCloseTo(l[i]! + r[i]!, 5);
    expect(y[1]).toEqual(y[0]);
  });
  test("another response comes in while the former one rings out, without a step", () => {
    const p = recordedSpace.create();
    p.prepare({ sampleRate: rate, channels: 1, maxFrames: 128 });
    p.set(resolveParams(recordedSpace.params, {}));
    p.reset();
    const smooth = (seed: number) =>
      noise(6000, seed, 0.02).map((v, i) => (1 - i / 6000) * Math.abs(v) * (i === 0 ? 10 : 1));
    p.respond!(partitionResponse([smooth(1)]));
    const x = sine(150, 0.3, 1);
    const out = [new Float32Array(rate), new Float32Array(rate)];
    for (let at = 0; at + 128 <= rate; at += 128) {
      if (at === 25600) p.respond!(partitionResponse([smooth(2)]));
      p.process(
        [x.subarray(at, at + 128)],
        out.map((y) => y.subarray(at, at + 128)),
        128,
        plainContext(at),
      );
    }
    const step = (from: number, to: number) => {
      let most = 0;
      for (let i = from; i < to; i++) most = Math.max(most, Math.abs(out[0]![i]! - out[0]![i - 1]!));
      return most;
    };
    expect(step(25000, 34000)).toBeLessThan(1.3 * Math.max(step(15000, 25000), step(40000, 47000)));
    expect(step(25000, 34000)).toBeGreaterThan(0);
  });
  test("without a response it is silent, and the dry share stays", () => {
    const x = noise(2000, 4);
    for (const y of run(recordedSpace, {}, x)) expect(y.every((v) => v === 0)).toBe(true);
    const [half] = run(recordedSpace, { mix: 50 }, x);
    for (const i of [3, 400, 1999]) expect(half![i]).toBeCloseTo(x[i]! / 2, 6);
  });
  test("in a song: the bus answers with the file, and the file itself is not heard", async () => {
    const { song: plain, audio } = testSong();
    const ir = newMic({
      id: "ir",
      file: "ir.wav",
      audio: "ir",
      channels: 1,
      frames: 4800,
      piece: "response",
      place: "close",
      sure: 1,
    });
    const space = { ...newProcessor("space", "recordedSpace", true), response: "ir" };
    const bus = { ...newBus("space", "Space", "group", { output: "kit" }), chain: [space] };
    const send = { bus: "space", level: 0, from: "fader", followsPan: false } as const;
    const song = applyAll(plain, [
      { op: "addMics", mics: [{ ...ir, output: "kit" }] },
      { op: "addBuses", buses: [bus] },
      { op: "setSends", owner: "kick", sends: [send] },
    ]);
    const late = new Float32Array(4800);
    late[2400] = 1;
    const all = [...audio, [late]];
    const quiet = await renderedKit(song, all, 12000);
    responses.putAudio("ir", [late], rate);
    const y = await renderedKit(song, all, 12000);
    // Kick at unity in the middle: its send answers 2400 frames later, on both sides.
    const kick = audio[0]![0]!;
    for (const i of [2400, 5000, 11000])
      expect(y[i]! - quiet[i]!).toBeCloseTo(kick[i - 2400]! * Math.SQRT1_2, 3);
    for (const i of [0, 1000, 2399]) expect(y[i]).toBeCloseTo(quiet[i]!, 6);
  });
  test("a response is chosen, undone, and refused where nothing answers", () => {
    const { song } = testSong();
    const room = song.buses.find((b) => b.chain.some((p) => p.type === "reverb"))!;
    const set = { op: "setProcessor", owner: room.id, processor: room.chain[0]!.id, response: "oh" } as const;
    expect(() => applyOperation(song, set)).toThrow(/answers with no impulse response/);
    const bad = {
      ...song,
      buses: song.buses.map((b) =>
        b.id === room.id ? { ...b, chain: [{ ...b.chain[0]!, response: "oh" }] } : b,
      ),
    };
    expect(() => readSong(JSON.parse(JSON.stringify(bad)))).toThrow(/answers with no impulse response/);
    const withSpace = applyAll(song, [
      { op: "setChain", owner: room.id, chain: [newProcessor(room.id, "recordedSpace", true)] },
    ]);
    const id = `${room.id}.recordedSpace`;
    const { song: chosen, inverse } = applyOperation(withSpace, { ...set, processor: id });
    const stateOf = (s: typeof song) => s.buses.find((b) => b.id === room.id)!.chain[0]!;
    expect(stateOf(chosen).response).toBe("oh");
    expect(stateOf(applyOperation(chosen, inverse).song).response).toBeUndefined();
  });
});
