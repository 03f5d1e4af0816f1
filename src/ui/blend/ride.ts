import { levelParam } from "../../core/song/limits";
import { useSong } from "../shared/songStore";

/** Below this a path gives nothing: the first press brings it to where one begins to hear it, dB. */
const [nothing, heardFrom] = [-60, -30];

/** Rides the chosen bus by some dB; from nothing it comes to where it is first heard. False: no bus is chosen. */
export function rideBus(by: number): boolean {
  const { song, bus: id, change } = useSong.getState();
  const bus = song?.buses.find((b) => b.id === id);
  if (!bus) return false;
  const wanted = bus.level <= nothing && by > 0 ? heardFrom : bus.level + by;
  const level = Math.round(10 * Math.max(levelParam.min, Math.min(levelParam.max, wanted))) / 10;
  change(`Ride ${bus.name}`, { op: "setBus", bus: bus.id, values: { level } });
  return true;
}
