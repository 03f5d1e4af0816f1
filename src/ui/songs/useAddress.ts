import { useEffect } from "react";
import { useSong } from "../shared/songStore";
import { addressOf, placeIn } from "./address";

/** Goes to the place that the address names, where it names one. */
function follow(): void {
  const { song, chooseStep, chooseMic, chooseBus, choosePiece } = useSong.getState();
  const place = song && placeIn(window.location.search, song);
  if (!place) return;
  chooseStep(place.step);
  if (place.bus !== null) chooseBus(place.bus);
  else if (place.mic !== null) chooseMic(place.mic);
  else choosePiece(null);
}

/** Keeps step and bench in the address: another step is a new entry to go back from, another mic is not. `opened`: the song is there. */
export function useAddress(opened: boolean): void {
  useEffect(() => {
    if (!opened) return;
    follow();
    const leave = useSong.subscribe((now, before) => {
      if (now.step === before.step && now.mic === before.mic && now.bus === before.bus) return;
      const address = addressOf(now);
      if (address === window.location.search) return;
      if (now.step === before.step) window.history.replaceState(null, "", address);
      else window.history.pushState(null, "", address);
    });
    window.addEventListener("popstate", follow);
    return () => {
      leave();
      window.removeEventListener("popstate", follow);
    };
  }, [opened]);
}
