import type { Piece } from "./song";

/** What pieces are called everywhere, and the bus of a drum until somebody calls it otherwise. */
export const pieceNames: Readonly<Record<Piece, string>> = {
  kick: "Kick",
  snare: "Snare",
  tom1: "Tom 1",
  tom2: "Tom 2",
  tom3: "Tom 3",
  floor: "Floor tom",
  hat: "Hat",
  ride: "Ride",
  crash: "Crash",
  overhead: "Overheads",
  room: "Rooms",
  sample: "Sample",
  loop: "Loop",
  context: "Other music",
  response: "Impulse response",
};
