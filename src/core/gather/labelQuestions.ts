import type { Mic, Song } from "../song/song";

/** Labels less sure than this are asked about. */
export const askBelow = 0.75;

/** Files whose label is not sure enough to be acted on unasked, the least sure first; silent ones need none. */
export const labelQuestions = ({ mics }: Pick<Song, "mics">): Mic[] =>
  mics.filter((m) => m.sure < askBelow && !m.silent).sort((a, b) => a.sure - b.sure);
