import { useEffect } from "react";
import { useSong } from "../shared/songStore";
import { addressOf, placeIn } from "./address";

/** Goes to the place that the address names; one that names none is where every song opens. */
function follow(): void {
  const { song, chooseStep, chooseMic, chooseBus, choosePiece } = useSong.getState();
  if (!song) return;
  const place = placeIn(window.location.search, song);
  chooseStep(place?.step ?? "gather");
  choosePiece(null);
  if (place?.bus) chooseBus(place.bus);
  else if (place?.mic) chooseMic(place.mic);
}

/** Keeps step and bench in the address: another step is a new entry to go back from, another mic is not. `opened`: the song is there. */
export function useAddress(opened: boolean): void {
  useEffect(() => {
    if (!opened) return;
    // On the way to a place the address is not touched: what lies ahead of it would be lost.
    let going = false;
    const go = () => {
      going = true;
      follow();
      going = false;
    };
    go();
    const leave = useSong.subscribe((now, before) => {
      if (going || (now.step === before.step && now.mic === before.mic && now.bus === before.bus)) return;
      const address = addressOf(now);
      if (address === window.location.search) return;
      if (now.step === before.step) window.history.replaceState(null, "", address);
      else window.history.pushState(null, "", address);
    });
    window.addEventListener("popstate", go);
    return () => {
      leave();
      window.removeEventListener("popstate", go);
    };
  }, [opened]);
}
