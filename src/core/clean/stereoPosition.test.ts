import { describe, expect, test } from "@jest/globals";
import { newMic, newSong } from "../song/create";
import { applyAll } from "../song/operations";
import { hitAt } from "../testing/playing";
import { noise } from "../testing/signals";
import { isDecided } from "../proposals/decided";
import { noFacts } from "../facts/facts";
import { designPan } from "../signal/pan";
import { proposeClean } from "./proposeClean";
import {
  cymbalPlaces,
  cymbalStrokes,
  pansByOverheads,
  placeAtStroke,
  readAfter,
  readBefore,
} from "./stereoPosition";

const rate = 48000;
const frames = Math.round((readBefore + readAfter) * rate);
const mic = (id: string, piece: "overhead" | "snare", place: "left" | "right" | "top") =>
  newMic({ id, file: id, audio: id, channels: 1, frames: 10 * rate, piece, place, sure: 1 });
const song = {
  ...newSong("t", rate, [
    mic("l", "overhead", "left"),
    mic("r", "overhead", "right"),
    mic("s", "snare", "top"),
  ]),
  hits: [hitAt("hat", 2), hitAt("snare", 4)],
};
/** A hat that is 3 times as loud left as right in the overheads, and bleeds into the snare in the middle. */
const hat = noise(frames, 4).map((v, i) => (i >= readBefore * rate ? v : 0));
const stretch = (bleed: number) => [
  [hat.map((v) => 0.3 * v)],
  [hat.map((v) => 0.1 * v)],
  [hat.map((v) => bleed * v)],
];

describe("where cymbals sit", () => {
  test("in the overheads alone by their levels: (right - left) over (right + left)", () => {
    const place = placeAtStroke(song, song.hits[0]!, stretch(0));
    expect(place.overheads).toBeCloseTo(-0.5, 2);
    expect(place.before).toBeCloseTo(-0.5, 2);
  });
  test("bleed in a mic in the middle draws them there; a gate that is closed puts them back", () => {
    const gate = {
      op: "setProcessor",
      owner: "s",
      processor: "s.gate",
      on: true,
      params: { opens: "hits", range: 60, hold: 0.1, release: 0.03 },
    } as const;
    const gated = applyAll(song, [gate]);
    const place = placeAtStroke(gated, gated.hits[0]!, stretch(0.4));
    expect(place.before).toBeGreaterThan(-0.25);
    expect(place.after).toBeCloseTo(-0.5, 1);
  });
  test("a cymbal's own mic is panned where the overheads put it, by the law of the pan", () => {
    const times = [1, 2, 3, 4];
    const hits = times.map((t) => hitAt("hat", t));
    const long = (gain: number) => {
      const x = new Float32Array(5 * rate);
      for (const t of times)
        x.set(
          noise(4800, t).map((v) => gain * v),
          t * rate,
        );
      return x;
    };
    const mics = [
      ...song.mics.slice(0, 2),
      newMic({
        id: "hh",
        file: "hh",
        audio: "hh",
        channels: 1,
        frames: 5 * rate,
        piece: "hat",
        place: "close",
        sure: 1,
      }),
    ];
    const audio = [[long(0.3)], [long(0.1)], [long(0.5)]];
    const pans = pansByOverheads(mics, audio, hits, rate);
    const [left, right] = designPan({ position: pans["hh"]!, law: "-3 dB" }, true);
    expect((right - left) / (right + left)).toBeCloseTo(-0.5, 1);
    expect(pansByOverheads(mics.slice(1), audio.slice(1), hits, rate)).toEqual({}); // one overhead has no sides
    expect(pansByOverheads(mics, audio, hits.slice(2), rate)).toEqual({}); // two strokes are too few
    const [proposal] = proposeClean({ ...newSong("t", rate, mics), hits }, { ...noFacts, pans });
    const fresh = { ...newSong("t", rate, mics), hits };
    expect(isDecided(fresh, proposal!)).toBe(false); // it is panned by its label, not by hand
    expect(isDecided(applyAll(fresh, [proposal!.operation]), proposal!)).toBe(true);
    const byHand = applyAll(fresh, [
      { op: "setProcessor", owner: "hh", processor: "hh.pan", params: { position: 70 } },
    ]);
    expect(isDecided(byHand, proposal!)).toBe(true);
    expect(proposal).toMatchObject({
      id: "pan:hh",
      step: "clean",
      operation: { params: { position: pans["hh"] } },
    });
  });
  test("toms go to the side where the overheads have them, together; where that is the usual one nothing is asked", () => {
    const times = [1, 2, 3, 4];
    const hits = times.flatMap((t) => [hitAt("tom1", t), hitAt("floor", t + 0.5)]);
    const overhead = (tom: number, floor: number) => {
      const x = new Float32Array(6 * rate);
      for (const t of times) {
        x.set(
          noise(4800, t).map((v) => tom * v),
          t * rate,
        );
        x.set(
          noise(4800, t + 9).map((v) => floor * v),
          (t + 0.5) * rate,
        );
      }
      return [x];
    };
    const tom = (piece: "tom1" | "floor") =>
      newMic({
        id: piece,
        file: piece,
        audio: piece,
        channels: 1,
        frames: 6 * rate,
        piece,
        place: "close",
        sure: 1,
      });
    const mics = [...song.mics.slice(0, 2), tom("tom1"), tom("floor")];
    const quiet = [new Float32Array(6 * rate)];
    const pans = (left: number[], right: number[]) =>
      pansByOverheads(
        mics,
        [overhead(left[0]!, left[1]!), overhead(right[0]!, right[1]!), quiet, quiet],
        hits,
        rate,
      );
    // As the audience sees a kit the floor tom is on the right: usualPan has it at +45 %, the rack tom at -25 %.
    expect(pans([0.3, 0.1], [0.1, 0.3])).toEqual({});
    expect(pans([0.1, 0.3], [0.3, 0.1])).toEqual({ tom1: 25, floor: -45 });
    expect(pans([0.2, 0.2], [0.2, 0.2])).toEqual({});
    expect(pans([0.2, 0.18], [0.2, 0.2])).toEqual({}); // too little to turn a kit over
  });
  test("strokes that fall on a shell's are left out where there are others; the middle over strokes is told", () => {
    const hits = [
      ...Array.from({ length: 30 }, (_, i) => hitAt("hat", 1 + i / 2)),
      ...Array.from({ length: 15 }, (_, i) => hitAt("snare", 1.01 + i)),
    ];
    const chosen = cymbalStrokes(hits);
    expect(chosen).toHaveLength(12);
    expect(chosen.every((h) => (h.time * 2) % 2 === 1)).toBe(true);
    const at = (x: number) => ({ piece: "ride" as const, place: { overheads: x, before: x, after: x } });
    expect(cymbalPlaces([at(0.1), at(0.3), at(0.2)])).toEqual([
      { piece: "ride", strokes: 3, overheads: 0.2, before: 0.2, after: 0.2 },
    ]);
  });
});
