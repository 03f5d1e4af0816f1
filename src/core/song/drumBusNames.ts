import type { Piece } from "./song";

/** What the bus of a drum is called until somebody calls it otherwise. */
export const drumBusNames: Readonly<Partial<Record<Piece, string>>> = {
  kick: "Kick",
  snare: "Snare",
  tom1: "Tom 1",
  tom2: "Tom 2",
  tom3: "Tom 3",
  floor: "Floor tom",
  hat: "Hi-hat",
  ride: "Ride",
  crash: "Crash",
  overhead: "Overheads",
};
