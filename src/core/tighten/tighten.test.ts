import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { editedTime, readEdited } from "../engine/timeline";
import { nearestLine } from "../grid/lines";
import { newTighten } from "../song/create";
import type { Edit, Hit, TightenSettings } from "../song/song";
import { hitAt, grooves, playGroove, steady } from "../testing/playing";
import { median } from "../signal/level";
import { noise } from "../testing/signals";
import { cutTime } from "../engine/cuts";
import { riskOfAlone, seamsOfDrum } from "./alone";
import { plainEdits } from "./joints";
import { checkEdits } from "../song/edits";
import { joinSeams, type Material } from "./material";
import { leansOf, planMoves } from "./moves";
import { planEdits, planSeams, type Playing } from "./planEdits";
import { groupStrokes } from "./strokes";
import { measureTightness } from "./tightness";
import { unsureBars } from "./unsureBars";

const rate = 48000;
const tempo = steady(120, 0.5, 30);
const leaders = newTighten().leaders;
const full: TightenSettings = { ...newTighten(), strength: 1, window: 0, largest: 0.05 };
const tightnessOf = (hits: readonly Hit[], edits: readonly Edit[], tighten = full) =>
  measureTightness({ hits, tempo, tighten, sections: [], edits, sampleRate: rate })!;
const playing = (hits: readonly Hit[], more: Partial<TightenSettings> = {}): Playing => ({
  hits,
  tempo,
  tighten: { ...full, ...more },
  sections: [],
  sampleRate: rate,
});
/** Eighths of kick and snare, off the grid by given ms. */
const eighths = (offsets: readonly number[]): Hit[] =>
  offsets.map((o, i) => hitAt(i % 2 ? "snare" : "kick", 0.5 + i / 4 + o / 1000));
const offsets = fc.array(fc.double({ min: -25, max: 25, noNaN: true }), { minLength: 2, maxLength: 60 });
const heard = (edits: readonly Edit[], h: Hit): number => editedTime(edits, h.time, rate);

describe("groups", () => {
  test("strokes that fall together are one; ghosts go with the nearest, a grace note with the stroke behind it", () => {
    const hits = [
      hitAt("kick", 1.01),
      hitAt("snare", 1.012),
      hitAt("hat", 1.005),
      hitAt("snare", 1.2, { ghost: true }),
      hitAt("snare", 1.44, { kind: "grace", ghost: true }),
      hitAt("snare", 1.47),
    ];
    const groups = groupStrokes(hits, leaders);
    expect(groups.map((g) => [g.leads.length, g.all.length])).toEqual([
      [2, 4],
      [1, 2],
    ]);
    expect(groups.map((g) => [g.from, g.to])).toEqual([
      [1.005, 1.2],
      [1.44, 1.47],
    ]);
  });
  test("only the leading drums decide; a roll is led by its first stroke", () => {
    const roll = [0, 0.05, 0.1, 0.15].map((t) => hitAt("snare", 2 + t, { kind: "roll" }));
    expect(
      groupStrokes([hitAt("kick", 1), hitAt("tom1", 1.5), ...roll], ["kick", "snare"]).map((g) => g.time),
    ).toEqual([1, 2]);
  });
});

describe("moves", () => {
  const at = (hits: Hit[], i: number, more: Partial<TightenSettings>) =>
    1000 * (heard(planEdits(playing(hits, more)), hits[i]!) - (0.5 + i / 4));
  test("at full strength every lone stroke lands on the grid to within the dead zone, whatever was played", () => {
    fc.assert(
      fc.property(offsets, (list) => {
        const hits = eighths(list);
        const edits = planEdits(playing(hits));
        return hits.every(
          (h) => Math.abs(heard(edits, h) - nearestLine(h.time, tempo, full)) <= 0.0005 + 1.01 / rate,
        );
      }),
      { numRuns: 80 },
    );
  });
  test("half strength goes half the way; the window leaves close ones; the largest move holds; a drum may move less", () => {
    const hits = eighths([0, 20, 2, -20]);
    expect(at(hits, 1, { strength: 0.5 })).toBeCloseTo(10, 1);
    expect(at(hits, 2, { window: 0.005 })).toBeCloseTo(2, 1);
    expect(at(hits, 3, { largest: 0.008 })).toBeCloseTo(-12, 1);
    expect(at(hits, 1, { byPiece: { snare: 0.25 } })).toBeCloseTo(15, 1);
  });
  test("locked regions and strokes taken back stay where they were played", () => {
    const hits = eighths([10, 10, 10, 10]);
    expect(at(hits, 1, { locked: [{ from: 0.7, to: 0.9 }] })).toBeCloseTo(10, 6);
    expect(at(hits, 2, { left: [hits[2]!.time] })).toBeCloseTo(10, 6);
    expect(at(hits, 3, { locked: [{ from: 0.7, to: 0.9 }] })).toBeCloseTo(0, 1);
  });
  test("a section's own strength and grid hold inside it", () => {
    const sections = [{ id: "b", name: "bridge", from: 0.9, to: 1.1 }];
    const moves = planMoves(
      eighths([10, 10, 10, 10]),
      tempo,
      { ...full, bySection: { b: { strength: 0 } } },
      sections,
    );
    expect(moves.map((m) => Math.round(1000 * m.shift) + 0)).toEqual([-10, -10, 0, -10]);
  });
  test("a lean that is kept moves the drum's grid: a snare that always drags by 8 ms stays, its stray strokes come to it", () => {
    const list = Array.from({ length: 20 }, (_, i) => (i % 2 ? 8 + (i === 7 ? 12 : 0) : 0));
    const hits = eighths(list);
    expect(leansOf(hits, tempo, full)["snare"]).toBeCloseTo(0.008, 6);
    const moved = planMoves(hits, tempo, { ...full, keepLean: true }, []).filter((m) => m.shift !== 0);
    expect(moved).toHaveLength(1);
    expect(moved[0]!.shift).toBeCloseTo(-0.012, 6);
  });
  test("a machine's exact grid, located to a tenth of a millisecond, is not touched; nothing without strokes or tempo", () => {
    const machine = eighths(Array.from({ length: 40 }, (_, i) => 0.1 * ((i % 3) - 1)));
    expect(planEdits(playing(machine))).toEqual([]);
    expect(planEdits(playing([]))).toEqual([]);
    expect(planEdits({ ...playing(eighths([20])), tempo: null })).toEqual([]);
    expect(planEdits(playing(eighths([9, 9]), { strength: 0 }))).toEqual([]);
  });
  test("strokes between two that are led share their moves when they are asked to", () => {
    const hits = [
      hitAt("kick", 0.51),
      hitAt("hat", 0.63),
      hitAt("hat", 0.755),
      hitAt("hat", 0.88),
      hitAt("snare", 0.99),
    ];
    const shifts = planMoves(hits, tempo, { ...full, between: "spread" }).map(
      (m) => Math.round(1e4 * m.shift) / 10,
    );
    expect(shifts).toEqual([-10, -5, 0.2, 5.4, 10].map((x) => expect.closeTo(x, 0)));
  });
  test("what is played before the first beat stays", () => {
    expect(planMoves([hitAt("snare", 0.1), hitAt("kick", 0.51)], tempo, full)[0]!.shift).toBe(0);
  });
});

describe("bars whose beats are unsure", () => {
  // Bars of four beats at 120: 0.5, 2.5, 4.5 s. The strokes of the second lie on quintuplets, which no line explains.
  const bar = (from: number, lines: number) =>
    Array.from({ length: lines }, (_, i) => hitAt(i % 2 ? "snare" : "kick", from + (2 * i) / lines));
  const odd = bar(2.5, 10).map((h) => ({ ...h, time: h.time + 0.0125 }));
  const hits = [...bar(0.5, 8), ...odd, ...bar(4.5, 8).map((h) => ({ ...h, time: h.time + 0.012 }))];
  test("are told by number, and stay as they were played while those around them are moved", () => {
    const { sections, tighten } = playing(hits);
    expect(unsureBars(hits, tempo, tighten, sections).map((b) => b.bar)).toEqual([2]);
    const moves = planMoves(hits, tempo, tighten, sections);
    const within = (from: number, to: number) =>
      moves.filter((m) => m.group.time > from && m.group.time < to);
    expect(within(2.4, 4.4).every((m) => m.shift === 0)).toBe(true);
    expect(within(4.45, 6.5).every((m) => Math.abs(m.shift + 0.012) < 1e-6)).toBe(true);
  });
  test("need some strokes to tell: three loose ones in a bar are moved", () => {
    const few = odd.slice(0, 3);
    expect(unsureBars(few, tempo, full)).toEqual([]);
    expect(unsureBars(few, null, full)).toEqual([]);
  });
});

describe("cuts", () => {
  test("they ascend, fades do not overlap, and no attack is cut or heard twice, whatever was played", () => {
    fc.assert(
      fc.property(offsets, (list) => {
        const hits = eighths(list);
        const edits = planEdits(playing(hits));
        return edits.every((e, i) => {
          const from = e.at - e.fade;
          const before = edits[i - 1]?.shift ?? 0;
          if (i > 0 && from < edits[i - 1]!.at) return false;
          // Neither side of the fade holds the first 5 ms of a stroke.
          return hits.every((h) =>
            [before, e.shift].every((s) => {
              const t = h.time * rate + s;
              return e.at <= t || from >= t + 0.005 * rate;
            }),
          );
        });
      }),
      { numRuns: 60 },
    );
  });
  test("strokes that fall together share one cut", () => {
    const hits = [hitAt("kick", 1.01), hitAt("snare", 1.012), hitAt("hat", 1.005), hitAt("kick", 2.02)];
    const edits = planEdits(playing(hits));
    expect(edits[0]!.at / rate).toBeLessThan(1.005 - 0.002);
    const apart = heard(edits, hits[1]!) - heard(edits, hits[0]!);
    expect(apart).toBeCloseTo(0.002, 9);
  });
  test("a stroke that reaches another mic earlier is not cut into there", () => {
    const seams = (mics: { lateBy: number }[]) => planSeams({ ...playing(eighths([0, 20])), mics });
    expect(seams([{ lateBy: 0 }])[0]!.to - seams([{ lateBy: -96 }])[0]!.to).toBe(96);
  });
  test("a long gap is spread over several joints", () => {
    const edits = planEdits(playing([hitAt("kick", 0.5), hitAt("kick", 1.46)]));
    expect(edits.length).toBeGreaterThan(3);
    expect(edits[edits.length - 1]!.shift).toBe(0.04 * rate);
  });
  test("a fill of 32nds stays in order, every stroke whole", () => {
    const fill = Array.from({ length: 32 }, (_, i) =>
      hitAt(i % 4 ? "tom1" : "snare", 0.5 + i / 16 + (((i * 7) % 5) - 2) / 400),
    );
    const edits = planEdits(playing(fill, { grid: "1/32" }));
    const times = fill.map((h) => heard(edits, h));
    expect(times.every((t, i) => i === 0 || t > times[i - 1]!)).toBe(true);
    const spread = tightnessOf(fill, edits, { ...full, grid: "1/32" });
    expect(spread.spreadAfter).toBeLessThan(0.5 * spread.spreadBefore);
  });
});

describe("tightness", () => {
  test("is the root mean square of the offsets", () => {
    const { spreadBefore } = tightnessOf(eighths([3, -4]), []);
    expect(1000 * spreadBefore).toBeCloseTo(Math.sqrt((9 + 16) / 2), 6);
  });
  test("without a tempo nothing says how strokes lie", () => {
    const song = {
      hits: eighths([3]),
      tempo: null,
      tighten: full,
      sections: [],
      edits: [],
      sampleRate: rate,
    };
    expect(measureTightness(song)).toBeNull();
  });
  test("a groove with 8 ms of spread has less than a tenth after", () => {
    const played = playGroove(grooves.rock, () => 120, { from: 0.5, spread: 8 });
    const done = planEdits(playing(played.hits));
    const t = tightnessOf(played.hits, done);
    expect(t.spreadBefore).toBeGreaterThan(0.006);
    expect(t.spreadAfter).toBeLessThan(0.0008);
    expect(t.cuts).toBe(done.length);
  });
});

describe("a drum alone", () => {
  const list = [0, 14, -12, 16, 9, -8, 0, 11, 4, 13].map((o, i) =>
    hitAt(i % 2 ? "snare" : "kick", 0.5 + (i >> 1) / 2 + (i % 2) / 8 + o / 1000),
  );
  test("its own cuts bring it to the grid under the kit's, which go by the others", () => {
    const kit = planEdits(playing(list, { alone: ["snare"] }));
    const tighten = { ...full, alone: ["snare" as const] };
    const seams = seamsOfDrum("snare", list, tempo, tighten, [], kit, rate);
    const own = plainEdits(seams, rate);
    const at = (h: Hit) => cutTime(h.piece === "snare" ? [kit, own] : [kit], h.time, rate);
    list.forEach((h) => expect(Math.abs(at(h) - nearestLine(h.time, tempo, full))).toBeLessThan(0.0011));
  });
  test("what that does is told: how far apart, and who hears it loudest", () => {
    const hits = [hitAt("snare", 1, { levelDb: -8 }), hitAt("snare", 2, { levelDb: -8 })];
    const heardIn = (piece: "tom1" | "kick", db: number) => ({
      piece,
      events: hits.map((h) => ({ time: h.time + 0.003, levelDb: db, peakDb: db, brightness: 0, excess: -5 })),
    });
    const risk = riskOfAlone(
      "snare",
      [{ from: 0, to: 10, before: 0, after: 480 }],
      hits,
      [heardIn("tom1", -22), heardIn("kick", -30)],
      rate,
    );
    expect(risk.apart).toBeCloseTo(0.01, 9);
    expect(risk.loudest).toEqual({ piece: "tom1", db: -14 });
  });
});

describe("joints by the material", () => {
  const seconds = 4;
  const frames = seconds * rate;
  const memory = (channels: Float32Array[]): Material => ({
    load: async (from, to) =>
      channels.map((x) => Float32Array.from({ length: to - from }, (_, i) => x[from + i] ?? 0)),
  });
  /** A drum that rings at a frequency, struck at some instants. */
  const ringing = (times: readonly number[], hz: number, decay: number): Float32Array => {
    const x = new Float32Array(frames);
    for (const t of times)
      for (let i = Math.round(t * rate); i < frames; i++) {
        const s = i / rate - t;
        x[i]! += 0.5 * Math.exp(-s / decay) * Math.sin(2 * Math.PI * hz * s);
      }
    return x;
  };
  const through = (edits: readonly Edit[], x: Float32Array): Float32Array => {
    const out = new Float32Array(frames);
    readEdited(
      edits,
      (f, n, y, to) => {
        for (let i = 0; i < n; i++) y[to + i] = x[f + i] ?? 0;
      },
      0,
      frames,
      out,
    );
    return out;
  };
  const hits = eighths([0, 18, -15, 12, -20, 9, 0, 15]);
  const strokes = hits.map((h) => h.time);
  const seams = planSeams(playing(hits));

  test("every mic is cut at the same frames; between the fades every frame is a moved copy", async () => {
    const mics = [ringing(strokes, 110, 0.4), noise(frames, 3)];
    const edits = await joinSeams(seams, memory(mics), rate);
    for (const x of mics) {
      const y = through(edits, x);
      let shift = 0;
      let at = 0;
      for (const e of [...edits, { at: frames, fade: 1, shift: 0 }]) {
        for (let i = at; i < e.at - e.fade; i += 37) expect(y[i]).toBe(x[i - shift] ?? 0);
        at = e.at;
        shift = e.shift;
      }
    }
  });
  test("in a ringing tail the joint lies where both sides agree: less error than at the plain place", async () => {
    const x = ringing(strokes, 95, 0.5);
    const energyError = (edits: readonly Edit[]) => {
      // What a fade takes off a tone: level inside it against both sides, worst over the joints.
      const y = through(edits, x);
      return Math.max(
        ...edits.map((e) => {
          const rms = (from: number, to: number) =>
            Math.sqrt(y.subarray(from, to).reduce((s, v) => s + v * v, 0) / (to - from));
          const n = Math.round(rate / 95);
          const inside = rms(e.at - e.fade - n, e.at + n);
          const expected =
            0.5 * (rms(e.at - e.fade - 3 * n, e.at - e.fade - n) + rms(e.at + n, e.at + 3 * n));
          return Math.abs(20 * Math.log10(inside / expected));
        }),
      );
    };
    const chosen = await joinSeams(seams, memory([x]), rate);
    expect(energyError(chosen)).toBeLessThan(energyError(planEdits(playing(hits))));
    expect(median(chosen.map((e) => e.likeness))).toBeGreaterThan(0.8);
  });
  test("noise is joined at constant power, tones at constant level", async () => {
    const edits = await joinSeams(seams, memory([noise(frames, 9)]), rate);
    expect(edits.every((e) => e.likeness < 0.4)).toBe(true);
    const y = through(edits, noise(frames, 9));
    const power = (from: number, to: number) =>
      y.subarray(from, to).reduce((s, v) => s + v * v, 0) / (to - from);
    const inside = edits.reduce((sum, e) => sum + power(e.at - e.fade, e.at), 0) / edits.length;
    expect(Math.abs(10 * Math.log10(inside / power(0, frames)))).toBeLessThan(0.6);
  });
  test.each([1, 20, 48, 60, 95, 96, 97, 200, 4000])(
    "a seam of %d frames gives a cut that can be read, however little room there is",
    async (length) => {
      const seams = [{ from: 5000, to: 5000 + length, before: 0, after: 90 }];
      const edits = await joinSeams(seams, memory([noise(12000, 5)]), rate);
      expect(edits.length).toBeGreaterThan(0);
      expect(edits[edits.length - 1]!.shift).toBe(90);
      expect(edits[edits.length - 1]!.at).toBeLessThanOrEqual(5000 + length);
      expect(() => checkEdits(edits, "the song")).not.toThrow();
      expect(() => checkEdits([null] as never, "the song")).toThrow(/one of its cuts is none/);
    },
  );
  test("a joint in steady noise jumps no more than noise does; one between two tones is found out", async () => {
    const quiet = await joinSeams(seams, memory([noise(frames, 4)]), rate);
    expect(Math.max(...quiet.map((e) => e.jumpDb!))).toBeLessThan(3);
    const rising = Float32Array.from(
      { length: frames },
      (_, i) => 0.3 * Math.sin(2 * Math.PI * (300 + 1500 * (i / rate)) * (i / rate)),
    );
    const far = [{ from: 4800, to: 9600, before: 0, after: -rate }];
    const [joint] = await joinSeams(far, memory([rising]), rate);
    expect(joint!.jumpDb!).toBeGreaterThan(6);
  });
});
