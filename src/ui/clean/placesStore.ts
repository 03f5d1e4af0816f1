import { create } from "zustand";
import type { CymbalPlace } from "../../core/clean/stereoPosition";

/** Where the cymbals of a song were last measured to sit; the kit plan draws it in Clean. */
export const usePlaces = create<{ song: string; places: readonly CymbalPlace[] }>()(() => ({
  song: "",
  places: [],
}));
