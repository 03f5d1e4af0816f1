import { describe, expect, test } from "@jest/globals";
import { blockFrames } from "../engine/engine";
import { applyAll, type Operation } from "../song/operations";
import type { Song } from "../song/song";
import { addedProcessor } from "../song/chainEdits";
import { kitOf } from "../song/graph";
import { bleedSong } from "../testing/bleedSong";
import { largestDifference } from "../testing/signals";
import { testSong } from "../testing/songs";
import { plainListening, type Comparison, type Listening } from "./listening";
import { otherSide } from "./otherSide";
import { Sides } from "./sides";

const set = (owner: string, type: string, params: Record<string, number | string>, on = true): Operation => ({
  op: "setProcessor",
  owner,
  processor: `${owner}.${type}`,
  params,
  on,
});
const listening = (
  comparison: Comparison,
  side: Listening["side"],
  more: Partial<Listening> = {},
): Listening => ({
  ...plainListening,
  comparison,
  side,
  ...more,
});
const without = (...ids: string[]): Comparison => ({ kind: "processors", ids });

/** Plays blocks [from, to) and returns the left channel. */
function play(sides: Sides, audio: Float32Array[][], from: number, to: number): Float32Array {
  const out = new Float32Array((to - from) * blockFrames);
  for (let b = from; b < to; b++) {
    const at = (b * blockFrames) % (audio[0]![0]!.length - blockFrames);
    const block = audio.map((mic) => mic.map((x) => x.subarray(at, at + blockFrames)));
    sides.process(block, block, b * blockFrames);
    out.set(sides.output[0]!, (b - from) * blockFrames);
  }
  return out;
}
const power = (x: Float32Array) => 10 * Math.log10(x.reduce((s, v) => s + v * v, 0) / x.length + 1e-30);
const only = (song: Song, mic: string, more: Operation[] = []): Song =>
  applyAll(song, [
    ...song.mics
      .filter((m) => m.id !== mic)
      .map((m): Operation => ({ op: "setMic", mic: m.id, values: { muted: true } })),
    ...more,
  ]);

describe("both sides of a comparison", () => {
  const { song, audio } = testSong(96000);
  const loud = only(song, "kick", [set("kick", "compressor", { threshold: -60, ratio: 1, makeup: 9 })]);

  test("one processor: the match is what it changes in loudness, and both sides are then equally loud", () => {
    const sides = new Sides(loud);
    sides.listen(listening(without("kick.compressor"), "with"));
    const withIt = play(sides, audio, 0, 700);
    expect(sides.matchDb).toBeCloseTo(9, 1);
    expect(sides.measured).toBe(true);
    sides.listen(listening(without("kick.compressor"), "without"));
    const other = play(sides, audio, 700, 900);
    expect(Math.abs(power(other.subarray(4000)) - power(withIt.subarray(40000)))).toBeLessThan(0.2);
  });
  test("unmatched, the other side keeps its own level", () => {
    const sides = new Sides(loud);
    sides.listen(listening(without("kick.compressor"), "with", { matched: false }));
    const withIt = play(sides, audio, 0, 300);
    sides.listen(listening(without("kick.compressor"), "without", { matched: false }));
    const other = play(sides, audio, 300, 500);
    expect(power(withIt.subarray(20000)) - power(other.subarray(4000))).toBeCloseTo(9, 0);
  });
  test("loudness is compared over the loop only", () => {
    // A gate that lets the first half pass and shuts the second: over the loop of the first half nothing changes.
    const half = audio.map((mic) => mic.map((x) => x.map((v, i) => (i < 48000 ? v : 0.01 * v))));
    const gated = only(song, "kick", [set("kick", "gate", { threshold: -20, range: 60 })]);
    const sides = new Sides(gated);
    sides.listen(listening(without("kick.gate"), "with", { range: { from: 4800, to: 43200 } }));
    play(sides, half, 0, 740);
    expect(Math.abs(sides.matchDb)).toBeLessThan(0.3);
  });
  test("the difference of a side with itself is silence; of a trim by 6 dB it is half the signal", () => {
    const sides = new Sides(song);
    sides.listen(listening(without("kick.eq"), "difference", { matched: false }));
    expect(power(play(sides, audio, 0, 200).subarray(20000))).toBeLessThan(-140);
    const trimmed = only(song, "kick", [set("kick", "trim", { gain: 6.0206 })]);
    const other = new Sides(trimmed);
    const whole = play(other, audio, 0, 200);
    other.listen(listening(without("kick.trim"), "difference", { matched: false }));
    const half = play(other, audio, 200, 400);
    expect(power(half.subarray(20000)) - power(whole.subarray(20000))).toBeCloseTo(-6, 0);
  });
  test("without the parallel paths", () => {
    const parallel = applyAll(song, [
      { op: "setBus", bus: "squash", values: { muted: false, level: 0 } },
      {
        op: "setSends",
        owner: "kick",
        sends: [{ bus: "squash", level: 0, from: "fader", followsPan: true }],
      },
    ]);
    const dry = play(new Sides(song), audio, 0, 300);
    const sides = new Sides(parallel);
    sides.listen(listening({ kind: "parallel" }, "without", { matched: false }));
    const other = play(sides, audio, 0, 300);
    expect(power(other.subarray(30000).map((v, i) => v - dry[30000 + i]!))).toBeLessThan(-120);
  });
  test("the untreated recording is heard as loud as the mix", () => {
    const quiet = applyAll(song, [{ op: "setBus", bus: "kit", values: { level: -12 } }]);
    const sides = new Sides(quiet);
    sides.listen(listening({ kind: "untreated" }, "with"));
    const mix = play(sides, audio, 0, 500);
    sides.listen(listening({ kind: "untreated" }, "without"));
    const raw = play(sides, audio, 500, 740);
    expect(sides.matchDb).toBeCloseTo(-12, 0);
    expect(Math.abs(power(raw.subarray(8000)) - power(mix.subarray(30000)))).toBeLessThan(0.5);
  });
  test("an earlier state and a record are compared with, matched", () => {
    const sides = new Sides(applyAll(song, [{ op: "setBus", bus: "kit", values: { level: -6 } }]));
    sides.listen(listening({ kind: "version", song }, "with"));
    play(sides, audio, 0, 500);
    expect(sides.matchDb).toBeCloseTo(-6, 0);
    const withRecord = applyAll(song, [
      { op: "setMic", mic: "oh", values: { piece: "context" } },
      { op: "setSong", values: { referenceRecord: "oh" } },
    ]);
    const compared = new Sides(withRecord);
    compared.listen(listening({ kind: "reference" }, "without", { matched: false }));
    const record = play(compared, audio, 0, 300);
    const late = compared.latency;
    const wanted = audio[2]![0]!;
    let most = 0;
    for (let i = 20000; i < 30000; i++) most = Math.max(most, Math.abs(record[i]! - wanted[i - late]!));
    expect(most).toBe(0);
  });
  test("changing sides in play makes no step larger than the sound's own", () => {
    const slow = audio.map((mic) => mic.map((x) => x.map((_, i) => 0.5 * Math.sin(i / 40))));
    const sides = new Sides(applyAll(song, [set("kick", "compressor", { threshold: -40, makeup: 6 })]));
    sides.listen(listening(without("kick.compressor"), "with"));
    let last = 0;
    let largest = 0;
    for (let b = 0; b < 300; b++) {
      if (b === 150 || b === 220)
        sides.listen(listening(without("kick.compressor"), b === 150 ? "without" : "with"));
      const at = b * blockFrames;
      const block = slow.map((mic) => mic.map((x) => x.subarray(at, at + blockFrames)));
      sides.process(block, block, at);
      for (const v of sides.output[0]!) {
        if (b > 60) largest = Math.max(largest, Math.abs(v - last));
        last = v;
      }
    }
    // Three sines of slope 0.5/40 a frame, panned and made up by 6 dB at most.
    expect(largest).toBeLessThan(3 * (0.5 / 40) * 2 * 1.2);
  });
  /** Largest step between neighbouring frames while `change` is made at block 150 of a slow sine in every mic. */
  function largestStep(sides: Sides, change: () => void): { step: number; end: number } {
    const slow = audio.map((mic) => mic.map((x) => x.map((_, i) => 0.5 * Math.sin(i / 40))));
    let last = 0;
    let step = 0;
    let end = 0;
    for (let b = 0; b < 250; b++) {
      if (b === 150) change();
      const at = b * blockFrames;
      const block = slow.map((mic) => mic.map((x) => x.subarray(at, at + blockFrames)));
      sides.process(block, block, at);
      for (const v of sides.output[0]!) {
        if (b > 100) step = Math.max(step, Math.abs(v - last));
        if (b > 200) end = Math.max(end, Math.abs(v));
        last = v;
      }
    }
    return { step, end };
  }
  test.each([
    ["nothing", { kind: "nothing" } as Comparison],
    ["another processor", without("kick.eq")],
    ["the untreated recording", { kind: "untreated" } as Comparison],
  ])("going from a comparison that is heard to %s makes no click", (_, next) => {
    const changed = applyAll(song, [
      { op: "setBus", bus: "kit", values: { level: -20 } },
      set("kick", "eq", {}),
    ]);
    const sides = new Sides(changed);
    // Three sines through the pan law, at full level on the untreated side: 26 dB above the kit.
    sides.listen(listening({ kind: "untreated" }, "without", { matched: false }));
    const { step } = largestStep(sides, () => sides.listen(listening(next, "without", { matched: false })));
    // A cut from one side to the other would step by about the sine's height, 1; a fade of 128 frames by a hundredth.
    expect(step).toBeLessThan(3 * (0.5 / 40) * 1.5);
  });
  test("what one comparison was matched by does not stay when another follows", () => {
    const both = only(song, "kick", [
      set("kick", "compressor", { threshold: -60, ratio: 1, makeup: 9 }),
      set("snare", "eq", {}),
    ]);
    const sides = new Sides(both);
    sides.listen(listening(without("kick.compressor"), "with"));
    play(sides, audio, 0, 500);
    sides.listen(listening(without("snare.eq"), "difference", { matched: false }));
    const removed = play(sides, audio, 500, 700);
    expect(power(removed.subarray(12000))).toBeLessThan(-140); // the EQ does nothing: no gain of 9 dB may stand
  });
  test("another record is taken up while one is compared with", () => {
    const records = applyAll(song, [
      { op: "setMic", mic: "oh", values: { piece: "context" } },
      { op: "setMic", mic: "snare", values: { piece: "context" } },
      { op: "setSong", values: { referenceRecord: "oh" } },
    ]);
    const sides = new Sides(records);
    sides.listen(listening({ kind: "reference" }, "without", { matched: false }));
    play(sides, audio, 0, 100);
    sides.update(applyAll(records, [{ op: "setSong", values: { referenceRecord: "snare" } }]));
    const heard = play(sides, audio, 100, 250);
    const wanted = audio[1]![0]!;
    let most = 0;
    for (let i = 8000; i < 19000; i++)
      most = Math.max(most, Math.abs(heard[i]! - wanted[100 * blockFrames + i - sides.latency]!));
    expect(most).toBe(0);
  });
  test("a state that takes less time is waited for: both sides are in time", () => {
    const quiet = applyAll(
      song,
      song.mics.map((m): Operation => ({ op: "setMic", mic: m.id, values: { level: -20 } })),
    );
    const slow = applyAll(quiet, [
      addedProcessor(kitOf(quiet), "limiter", undefined, { ceiling: 0 }).operation,
    ]);
    const sides = new Sides(slow);
    sides.listen(listening({ kind: "version", song: quiet }, "difference", { matched: false }));
    play(sides, audio, 0, 300);
    const left = play(sides, audio, 300, 420);
    // Nothing comes near to full scale here, so that the limiter only takes its time.
    expect(power(left)).toBeLessThan(-120);
    expect(otherSide(song, { kind: "version", song: slow })).toBeNull();
  });
  test("a state with other mics is refused: the song goes on as it is", () => {
    const fewer = { ...song, mics: song.mics.slice(1) };
    expect(otherSide(song, { kind: "version", song: fewer })).toBeNull();
    const sides = new Sides(song);
    const plain = play(new Sides(song), audio, 0, 60);
    sides.listen(listening({ kind: "version", song: fewer }, "without"));
    expect(largestDifference(play(sides, audio, 0, 60), plain)).toBe(0);
  });
  test("a change of the song reaches both sides; mics that are the same run once", () => {
    const sides = new Sides(loud);
    sides.listen(listening(without("kick.compressor"), "without", { matched: false }));
    play(sides, audio, 0, 200);
    const before = play(sides, audio, 200, 300);
    sides.update(applyAll(loud, [{ op: "setBus", bus: "kit", values: { level: -6 } }]));
    play(sides, audio, 300, 320);
    const after = play(sides, audio, 320, 420);
    expect(power(after) - power(before)).toBeCloseTo(-6, 0);
  });
});

describe("cancelling on both sides", () => {
  const { song, audio } = bleedSong();
  const cancelled = applyAll(song, [
    set("kick", "cancel", {}),
    set("snare", "cancel", {}),
    set("snare", "compressor", { threshold: -30 }),
  ]);
  /** The other side of a comparison, unmatched, and the same song played alone from the start. */
  function bothWays(comparison: Comparison): [Float32Array, Float32Array] {
    const sides = new Sides(cancelled);
    sides.listen(listening(comparison, "without", { matched: false }));
    const there = play(sides, audio, 0, 1500);
    const alone = play(new Sides(otherSide(cancelled, comparison)!), audio, 0, 1500);
    return [there.subarray(64000), alone.subarray(64000)];
  }
  test("a compressor is compared on the same cancelled mics", () => {
    const [there, alone] = bothWays(without("snare.compressor"));
    expect(largestDifference(there, alone)).toBeLessThan(1e-6);
  });
  test("cancelling itself is compared with the mic as it came", () => {
    const [there, alone] = bothWays(without("snare.cancel"));
    expect(power(there.map((v, i) => v - alone[i]!)) - power(alone)).toBeLessThan(-40);
    const [, withIt] = bothWays(without("snare.compressor"));
    expect(power(alone.map((v, i) => v - withIt[i]!)) - power(alone)).toBeGreaterThan(-30);
  });
  test("from a compressor to cancelling and back nothing is heard twice or lost", () => {
    const sides = new Sides(cancelled);
    sides.listen(listening(without("snare.compressor"), "without", { matched: false }));
    play(sides, audio, 0, 400);
    sides.listen(listening(without("snare.cancel"), "without", { matched: false }));
    play(sides, audio, 400, 800);
    sides.listen(listening(without("snare.compressor"), "without", { matched: false }));
    const there = play(sides, audio, 800, 1500);
    const alone = play(
      new Sides(otherSide(cancelled, without("snare.compressor"))!),
      audio,
      0,
      1500,
    ).subarray(800 * blockFrames);
    // Looks begin elsewhere after a change, so that gains differ a little.
    expect(power(there.subarray(40000).map((v, i) => v - alone[i + 40000]!)) - power(alone)).toBeLessThan(
      -30,
    );
  });
});
