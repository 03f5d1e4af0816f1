import { levelParam } from "../../core/song/limits";
import { useSong } from "../shared/songStore";
import { useMoves } from "./moves/moveStore";
import { rideLevel } from "./moves/writeMoves";

/** Below this a path gives nothing: the first press brings it to where one begins to hear it, dB. */
const [nothing, heardFrom] = [-60, -30];

/** Rides the chosen bus by some dB; from nothing it comes to where it is first heard. False: no bus is chosen. */
export function rideBus(by: number): boolean {
  const { song, bus: id, change } = useSong.getState();
  const bus = song?.buses.find((b) => b.id === id);
  if (!bus) return false;
  const { ridden } = useMoves.getState();
  const from = ridden?.id === bus.id ? ridden.level : bus.level;
  const wanted = from <= nothing && by > 0 ? heardFrom : from + by;
  const level = Math.round(10 * Math.max(levelParam.min, Math.min(levelParam.max, wanted))) / 10;
  if (rideLevel(bus, bus.level, level)) return true;
  change(`Ride ${bus.name}`, { op: "setBus", bus: bus.id, values: { level } });
  return true;
}
