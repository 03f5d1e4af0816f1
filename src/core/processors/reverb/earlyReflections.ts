import type { Planar } from "../../processor";
import { speedOfSound } from "../../signal/sound";

interface Values {
  readonly roomWidth: number;
  readonly roomDepth: number;
  readonly roomHeight: number;
  readonly distance: number;
}
/** What a wall gives back of the pressure, common practice, no source. */
const wall = 0.75;
/** Highest order of image sources. */
const highest = 2;
/** Heights of the kit and of who listens, m; the kit stands at a third of the depth. */
const [kitHeight, earHeight] = [0.9, 1.6];
const longestSeconds = 0.4;

/** One reflection: later than the direct sound, s, and its gains to left and right against that. */
export interface Reflection {
  readonly delay: number;
  readonly left: number;
  readonly right: number;
}

/**
 * First and second reflections of a rectangular room, as they arrive against the direct sound.
 * Source  image sources: Allen and Berkley, J. Acoust. Soc. Am. 65(4), 1979; pressure falls with distance.
 */
export function reflectionsOf(v: Values): Reflection[] {
  const room = [v.roomWidth, v.roomDepth, v.roomHeight] as const;
  const kit = [v.roomWidth / 2, v.roomDepth / 3, kitHeight] as const;
  const ear = [
    v.roomWidth / 2,
    Math.min(v.roomDepth - 0.1, v.roomDepth / 3 + v.distance),
    earHeight,
  ] as const;
  const direct = Math.hypot(...kit.map((k, axis) => k - ear[axis]!));
  const found: Reflection[] = [];
  const span = [-2, -1, 0, 1, 2];
  // The n-th image on an axis lies n rooms away, turned over where n is odd, and has met |n| walls.
  const image = (axis: number, n: number): number =>
    n * room[axis]! + (n % 2 === 0 ? kit[axis]! : room[axis]! - kit[axis]!);
  for (const nx of span)
    for (const ny of span)
      for (const nz of span) {
        const order = Math.abs(nx) + Math.abs(ny) + Math.abs(nz);
        if (order === 0 || order > highest) continue;
        const from = [image(0, nx) - ear[0], image(1, ny) - ear[1], image(2, nz) - ear[2]] as const;
        const way = Math.hypot(...from);
        const gain = (wall ** order * direct) / way;
        // Where it comes from between left and right, constant power.
        const angle = ((1 + from[0] / way) * Math.PI) / 4;
        found.push({
          delay: (way - direct) / speedOfSound,
          left: gain * Math.cos(angle),
          right: gain * Math.sin(angle),
        });
      }
  return found.filter((r) => r.delay < longestSeconds).sort((a, b) => a.delay - b.delay);
}

/** Adds the reflections of a room to what rings. */
export class EarlyReflections {
  private rate = 0;
  private ring = new Float32Array(1);
  private at = 0;
  private resting = false;
  private told = "";
  private frames = new Int32Array(0);
  private left = new Float64Array(0);
  private right = new Float64Array(0);

  prepare(sampleRate: number): void {
    this.rate = sampleRate;
    this.ring = new Float32Array(2 ** Math.ceil(Math.log2(longestSeconds * sampleRate + 1)));
    this.told = "";
  }
  set(v: Values): void {
    const told = `${v.roomWidth} ${v.roomDepth} ${v.roomHeight} ${v.distance}`;
    if (told === this.told) return;
    this.told = told;
    const found = reflectionsOf(v);
    this.frames = Int32Array.from(found, (r) => Math.round(r.delay * this.rate));
    this.left = Float64Array.from(found, (r) => r.left);
    this.right = Float64Array.from(found, (r) => r.right);
  }
  reset(): void {
    this.ring.fill(0);
    this.at = 0;
  }
  adopt(from: EarlyReflections): void {
    if (from.ring.length !== this.ring.length) return;
    this.ring.set(from.ring);
    this.at = from.at;
  }
  /** Nothing is heard of it: what it holds is forgotten when it works again. */
  rest(): void {
    this.resting = true;
  }
  add(input: Planar, wet: readonly [Float64Array, Float64Array], gain: number, frames: number): void {
    const { ring, left, right } = this;
    if (this.resting) ring.fill(0);
    this.resting = false;
    const mask = ring.length - 1;
    const late = this.frames;
    for (let i = 0; i < frames; i++) {
      ring[this.at] = 0.5 * (input[0]![i]! + input[1]![i]!);
      let [l, r] = [0, 0];
      for (let k = 0; k < late.length; k++) {
        const x = ring[(this.at - late[k]!) & mask]!;
        l += left[k]! * x;
        r += right[k]! * x;
      }
      wet[0][i]! += gain * l;
      wet[1][i]! += gain * r;
      this.at = (this.at + 1) & mask;
    }
  }
}
