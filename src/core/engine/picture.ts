import { laneFrames, type StereoPlace } from "../lanes/laneMemory";
import { designPan } from "../signal/pan";
import type { Bus } from "../song/song";

/** How left and right become left and right: [left from left, left from right, right from left, right from right]. */
type Matrix = [number, number, number, number];
const plain: Readonly<Matrix> = [1, 0, 0, 1];

/**
 * Width first, then balance: the sides are widened or narrowed around their middle, which stays as loud, and the far side is
 * turned down. Pure.
 */
export function designPicture({ pan, width }: Pick<Bus, "pan" | "width">): Matrix {
  const side = width / 200;
  const [left, right] = designPan({ position: pan, law: "-3 dB" }, false);
  return [left * (0.5 + side), left * (0.5 - side), right * (0.5 - side), right * (0.5 + side)];
}

/** The stereo picture of a bus, which glides within a block; left as it is it changes nothing, to the bit. */
export class Picture {
  private now: Matrix = [...plain];
  private wanted: Matrix = [...plain];

  constructor(
    private readonly from: StereoPlace,
    private readonly to: StereoPlace,
  ) {}
  set(bus: Pick<Bus, "pan" | "width">): void {
    this.wanted = designPicture(bus);
  }
  jump(): void {
    this.now = [...this.wanted];
  }
  /** Where the result lies: where it came from, when nothing is to be done. */
  process(): StereoPlace {
    const { now, wanted, from, to } = this;
    let moves = false;
    let changes = false;
    for (let i = 0; i < 4; i++) {
      if (now[i] !== wanted[i]) moves = true;
      if (wanted[i] !== plain[i]) changes = true;
    }
    if (!moves && !changes) return from;
    const [l, r] = from.channels;
    const [y, z] = to.channels;
    for (let i = 0; i < laneFrames; i++) {
      const share = (i + 1) / laneFrames;
      const a = l[i]!;
      const b = r[i]!;
      y[i] = (now[0] + share * (wanted[0] - now[0])) * a + (now[1] + share * (wanted[1] - now[1])) * b;
      z[i] = (now[2] + share * (wanted[2] - now[2])) * a + (now[3] + share * (wanted[3] - now[3])) * b;
    }
    for (let i = 0; i < 4; i++) now[i] = wanted[i]!;
    return to;
  }
}
