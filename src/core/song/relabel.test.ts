import { describe, expect, test } from "@jest/globals";
import { newMic } from "./create";
import { followLabel } from "./relabel";

const mic = newMic({ id: "m1", file: "a.wav", audio: null, channels: 1, frames: 100, piece: "context", place: "close", sure: 0.2 }); // prettier-ignore
const panned = (position: number) => ({ ...mic, chain: mic.chain.map((p) => (p.type === "pan" ? { ...p, params: { ...p.params, position } } : p)) }); // prettier-ignore

describe("a new label", () => {
  test("takes the pan along: a file that turns out as the left overhead goes left", () => {
    expect(followLabel(mic, { piece: "overhead", place: "left" })).toEqual([
      { op: "setProcessor", owner: "m1", processor: "m1.pan", params: { position: -100 } },
    ]);
  });
  test("leaves a pan that was set by hand, and does nothing where nothing changes", () => {
    expect(followLabel(panned(20), { piece: "overhead", place: "left" })).toEqual([]);
    expect(followLabel(mic, { piece: "kick", place: "in" })).toEqual([]);
  });
});
