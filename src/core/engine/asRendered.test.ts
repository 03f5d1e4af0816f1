import { expect, test } from "@jest/globals";
import { newProcessor } from "../song/create";
import { testSong } from "../testing/songs";
import { asRendered } from "./asRendered";

const withKick = (params: Record<string, string>, bySection?: Record<string, Record<string, string>>) => {
  const { song } = testSong(100);
  const one = newProcessor("kick", "saturation", true, params);
  const chain = [bySection ? { ...one, bySection } : one];
  return { ...song, mics: song.mics.map((m) => (m.id === "kick" ? { ...m, chain } : m)) };
};
const kickOf = (song: ReturnType<typeof withKick>) =>
  asRendered(song).mics.find((m) => m.id === "kick")!.chain[0]!;

test("files are made with eight times the rate where that is asked for, in sections too", () => {
  const sections = { a: { oversampling: "2 times" }, b: { rendering: "as it plays" } };
  const song = withKick({ oversampling: "4 times", rendering: "8 times" }, sections);
  expect(kickOf(song).params["oversampling"]).toBe("8 times");
  expect(kickOf(song).bySection).toEqual({
    a: { oversampling: "8 times" },
    b: { rendering: "as it plays" },
  });
});
test("a song that asks for nothing else is rendered as it plays", () => {
  const song = withKick({ oversampling: "2 times" });
  expect(asRendered(song)).toEqual(song);
});
