import { completing, type FormatStep } from "./step";

const steep = { oversampling: "4 times, steep", rendering: "as it plays" };
const inSeconds = { predelayBy: "seconds" };

const more = completing({
  saturation: steep,
  harmonics: steep,
  reverb: inSeconds,
  recordedSpace: inSeconds,
  shortSpace: inSeconds,
});

/** What bends has an oversampling that is chosen; spaces may wait for a share of a beat; kits are shaped in a flavour and by quick controls. */
export const from8: FormatStep = {
  song: (song) => ({
    shaping: { flavour: "modern", byPiece: {}, tomsTogether: false },
    quick: {},
    ...more.song(song),
  }),
  operation: more.operation,
};
