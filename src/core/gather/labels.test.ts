import { describe, expect, test } from "@jest/globals";
import { guessLabel, guessLabels } from "./labels";

// Names as people write them (common practice, from memory).
const names: [string, string, string][] = [
  ["Kick In.wav", "kick", "in"], ["BD_out.wav", "kick", "out"], ["kik inside.wav", "kick", "in"], ["SubKick.wav", "kick", "sub"],
  ["01_KickIn_take3.wav", "kick", "in"], ["Bassdrum innen.wav", "kick", "in"], ["Grosse Caisse dehors.wav", "kick", "out"],
  ["Snare Top.wav", "snare", "top"], ["SN_B.wav", "snare", "bottom"], ["snr under.wav", "snare", "bottom"], ["SD-BTM.wav", "snare", "bottom"],
  ["SnareTop_02.wav", "snare", "top"], ["Caja arriba.wav", "snare", "top"], ["Rullante sotto.wav", "snare", "bottom"],
  ["HiHat.wav", "hat", "close"], ["HH.wav", "hat", "close"], ["Charley.wav", "hat", "close"],
  ["Tom 1.wav", "tom1", "close"], ["T1.wav", "tom1", "close"], ["T2.wav", "tom2", "close"], ["rack tom.wav", "tom1", "close"],
  ["TOM-MID.wav", "tom2", "close"], ["Floor Tom.wav", "floor", "close"], ["FT.wav", "floor", "close"], ["Standtom.wav", "floor", "close"],
  ["Tom 16.wav", "floor", "close"], ["Ride.wav", "ride", "close"], ["Crash L.wav", "crash", "left"],
  ["OH_L.wav", "overhead", "left"], ["OHR.wav", "overhead", "right"], ["Overheads left.wav", "overhead", "left"],
  ["Room L.wav", "room", "left"], ["amb mono.wav", "room", "close"], ["RM far.wav", "room", "close"],
  ["Snare Sample.wav", "sample", "close"], ["Snare Trig.wav", "snare", "trigger"], ["Drum Loop 104.wav", "loop", "close"],
  ["Bass DI.wav", "context", "close"], ["Vox lead.wav", "context", "close"], ["Klick.wav", "context", "close"],
]; // prettier-ignore

describe("labels from names", () => {
  test.each(names)("%s is %s, %s", (file, piece, place) => {
    expect(guessLabel(file, 1)).toMatchObject({ piece, place });
  });
  test("a stereo file is a pair", () => {
    expect(guessLabel("Room.wav", 2)).toMatchObject({ piece: "room", place: "pair" });
  });
  test("a name that says nothing is unsure", () => {
    expect(guessLabel("Audio 7.wav", 1).sure).toBeLessThan(0.3);
  });
  test("what one name leaves open, the others settle", () => {
    const labels = guessLabels(["Kick.wav", "Kick out.wav", "SN.wav", "SN btm.wav", "OH 1.wav", "OH 2.wav"].map((file) => ({ file, channels: 1 })));
    expect(labels.map((l) => `${l.piece} ${l.place}`)).toEqual(["kick in", "kick out", "snare top", "snare bottom", "overhead left", "overhead right"]);
  }); // prettier-ignore
});
