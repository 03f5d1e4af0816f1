import { describe, expect, test } from "@jest/globals";
import { guessLabel, guessLabels } from "./labels";

// Names as people write them (common practice, from memory).
const names: [string, string, string][] = [
  ["Kick In.wav", "kick", "in"],
  ["BD_out.wav", "kick", "out"],
  ["kik inside.wav", "kick", "in"],
  ["SubKick.wav", "kick", "sub"],
  ["01_KickIn_take3.wav", "kick", "in"],
  ["Bassdrum innen.wav", "kick", "in"],
  ["Grosse Caisse dehors.wav", "kick", "out"],
  ["Snare Top.wav", "snare", "top"],
  ["SN_B.wav", "snare", "bottom"],
  ["snr under.wav", "snare", "bottom"],
  ["SD-BTM.wav", "snare", "bottom"],
  ["SnareTop_02.wav", "snare", "top"],
  ["Caja arriba.wav", "snare", "top"],
  ["Rullante sotto.wav", "snare", "bottom"],
  ["HiHat.wav", "hat", "close"],
  ["HH.wav", "hat", "close"],
  ["Charley.wav", "hat", "close"],
  ["Tom 1.wav", "tom1", "close"],
  ["T1.wav", "tom1", "close"],
  ["T2.wav", "tom2", "close"],
  ["rack tom.wav", "tom1", "close"],
  ["TOM-MID.wav", "tom2", "close"],
  ["Floor Tom.wav", "floor", "close"],
  ["FT.wav", "floor", "close"],
  ["Standtom.wav", "floor", "close"],
  ["Tom 16.wav", "floor", "close"],
  ["Ride.wav", "ride", "close"],
  ["Crash L.wav", "crash", "left"],
  ["OH_L.wav", "overhead", "left"],
  ["OHR.wav", "overhead", "right"],
  ["Overheads left.wav", "overhead", "left"],
  ["Room L.wav", "room", "left"],
  ["amb mono.wav", "room", "close"],
  ["RM far.wav", "room", "close"],
  ["Snare Sample.wav", "sample", "close"],
  ["Snare Trig.wav", "snare", "trigger"],
  ["Drum Loop 104.wav", "loop", "close"],
  ["Bass DI.wav", "context", "close"],
  ["Vox lead.wav", "context", "close"],
  ["Klick.wav", "context", "close"],
];

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
    const labels = guessLabels(
      ["Kick.wav", "Kick out.wav", "SN.wav", "SN btm.wav", "OH 1.wav", "OH 2.wav"].map((file) => ({
        file,
        channels: 1,
      })),
    );
    expect(labels.map((l) => `${l.piece} ${l.place}`)).toEqual([
      "kick in",
      "kick out",
      "snare top",
      "snare bottom",
      "overhead left",
      "overhead right",
    ]);
  });
  const toms = (...files: string[]) =>
    guessLabels(files.map((file) => ({ file, channels: 1 })))
      .map((l) => l.piece)
      .join(" ");
  test("toms are put in order by the words they have", () => {
    expect(toms("HiTom.wav", "MidTom.wav", "LowTom.wav")).toBe("tom1 tom2 floor");
    expect(toms("hitom.wav", "lowtom.wav")).toBe("tom1 floor");
    expect(toms("Tom 12.wav", "Tom 16.wav")).toBe("tom1 floor");
    expect(toms("Tom 10.wav", "Tom 12.wav", "Tom 16.wav")).toBe("tom1 tom2 floor");
    expect(toms("RACK HI.wav", "RACK LO.wav", "FLOOR.wav")).toBe("tom1 tom2 floor");
    expect(toms("rack lo.wav", "rack hi.wav", "flr tom.wav")).toBe("tom2 tom1 floor");
    expect(toms("T1.wav", "T2.wav", "FT.wav")).toBe("tom1 tom2 floor");
    expect(toms("Tom 1.wav", "Tom 2.wav", "Tom 3.wav")).toBe("tom1 tom2 tom3");
    expect(toms("Tom Aigu.wav", "Tom Medium.wav", "Tom Basse.wav")).toBe("tom1 tom2 floor");
    expect(toms("Tom 12 top.wav", "Tom 12 btm.wav", "Tom 16 top.wav")).toBe("tom1 tom1 floor");
  });
  const all = (...files: string[]) =>
    guessLabels(files.map((file) => ({ file, channels: 1 }))).map((l) => `${l.piece} ${l.place}`);
  test("a take mark, a running number and a shared word are no part of a name", () => {
    expect(
      all("Hi Tom_T4.wav", "Room L_T4.wav", "Kick In_T4.wav", "Snare Top_T4.wav", "Low Tom_T4.wav"),
    ).toEqual(["tom1 close", "room left", "kick in", "snare top", "floor close"]);
    expect(all("Audio 8_K IN.wav", "Audio 6_K OUT.wav", "Audio 2_SN TOP.wav", "Audio 5_OH L.wav")).toEqual([
      "kick in",
      "kick out",
      "snare top",
      "overhead left",
    ]);
    expect(
      all("Take3_HI HAT-09.wav", "Take3_Sub-02.wav", "Take3_over l-03.wav", "Take3_over r-04.wav"),
    ).toEqual(["hat close", "kick sub", "overhead left", "overhead right"]);
  });
  test("over is an overhead, and the upper mic of a snare", () => {
    expect(all("snare over.wav", "over r.wav", "Charleston.wav")).toEqual([
      "snare top",
      "overhead right",
      "hat close",
    ]);
  });
});
