import { nameOf, ownerOf, type Owner } from "../../../core/song/graph";
import { heldMove, thinned, withRidden } from "../../../core/song/levelMoves";
import type { LevelMove } from "../../../core/song/song";
import { shortName } from "../../shared/format";
import { playback, usePlayback } from "../../shared/playback";
import { useSong } from "../../shared/songStore";
import { setOwner } from "../routing";
import { useMoves } from "./moveStore";

/** A ridden fader is kept to so much, dB: less than one hears of a move (common practice, no source). */
const tolerance = 0.2;
/** A fader that stood still for longer than this did so until it moved, s. */
const stands = 0.04;

/** What is being written. */
interface Ride {
  readonly owner: string;
  readonly song: string;
  /** The fader beside which moves are told, and its moves before. */
  readonly base: number;
  readonly before: readonly LevelMove[];
  readonly points: LevelMove[];
  readonly leave: () => void;
}
let ride: Ride | null = null;

const now = (): number => playback.position / useSong.getState().song!.sampleRate;

/** Stores what was ridden as one step. */
function endRide(): void {
  if (!ride) return;
  const { owner: id, song: of, before, points, leave } = ride;
  ride = null;
  leave();
  useMoves.setState({ ridden: null });
  const { song, id: open, change } = useSong.getState();
  const owner = open === of && song ? ownerOf(song, id) : undefined;
  const last = points.at(-1);
  if (!owner || !last) return;
  const end = Math.max(last.time, Math.min(now(), last.time + 60));
  if (end - last.time > stands) points.push({ time: end, db: last.db });
  const levelMoves = withRidden(before, thinned(points, tolerance));
  change(`Fader of ${shortName(nameOf(owner))}, ridden`, setOwner(owner, { levelMoves }));
}

function begin(owner: Owner, base: number): Ride {
  const left = [
    usePlayback.subscribe((s) => !s.playing && endRide()),
    // A loop that begins anew, or a jump, ends what was ridden: a point never lies before the one before it.
    playback.subscribe(() => ride && now() < (ride.points.at(-1)?.time ?? 0) - stands && endRide()),
    useMoves.subscribe((s) => !s.writing && endRide()),
  ];
  return {
    owner: owner.id,
    song: useSong.getState().id,
    base,
    before: owner.levelMoves ?? [],
    points: [],
    leave: () => left.forEach((f) => f()),
  };
}

/**
 * Writes where a fader is put while the song plays, from now until it stops, begins a loop anew, or another fader is taken.
 * `base`: its level without moves, dB. False: nothing is written now, and the fader is set as ever.
 */
export function rideLevel(owner: Owner, base: number, level: number): boolean {
  if (!useMoves.getState().writing || !usePlayback.getState().playing) return false;
  if (ride && ride.owner !== owner.id) endRide();
  ride ??= begin(owner, base);
  const db = heldMove(level - ride.base);
  const time = now();
  const last = ride.points.at(-1);
  if (last && time - last.time > stands) ride.points.push({ time: time - stands / 2, db: last.db });
  if (last && time <= last.time) ride.points[ride.points.length - 1] = { time: last.time, db };
  else ride.points.push({ time, db });
  useMoves.setState({ ridden: { id: owner.id, level: ride.base + db } });
  // Heard at once: until it is stored, the fader is where it is held.
  const held = setOwner(owner, { levelMoves: [{ time: 0, db }] });
  useSong.getState().preview(held);
  return true;
}
