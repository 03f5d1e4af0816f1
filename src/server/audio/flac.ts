import Flac from "libflacjs/dist/libflac.js";

/** Waits until the codec has set itself up, which takes some milliseconds after the start of the program. */
export const flacReady = (): Promise<void> =>
  Flac.isReady() ? Promise.resolve() : new Promise((resolve) => Flac.on("ready", () => resolve()));
