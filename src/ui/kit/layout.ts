import type { Mic, Piece, Place, PlanSettings } from "../../core/song/song";

/** Where a piece stands on the plan: cm to the drummer's right and away from the drummer, radius in cm. */
export interface Spot {
  readonly x: number;
  readonly y: number;
  readonly r: number;
  readonly shape: "barrel" | "drum" | "floor" | "cymbal" | "pair" | "mark";
}

/** A usual right-handed kit from above. */
const spots: Partial<Record<Piece, Spot>> = {
  kick: { x: 0, y: 82, r: 27, shape: "barrel" },
  snare: { x: -33, y: -6, r: 19, shape: "drum" },
  hat: { x: -80, y: 12, r: 18, shape: "pair" },
  tom1: { x: -24, y: 37, r: 17, shape: "drum" },
  tom2: { x: 17, y: 38, r: 18, shape: "drum" },
  tom3: { x: 55, y: 28, r: 18, shape: "drum" },
  floor: { x: 54, y: -14, r: 22, shape: "floor" },
  ride: { x: 92, y: 30, r: 25, shape: "cymbal" },
  crash: { x: -70, y: 72, r: 22, shape: "cymbal" },
};

/** Where a far mic or a file that is no drum is drawn. */
const farSpots: Partial<Record<Piece, Partial<Record<Place, readonly [number, number]>>>> = {
  overhead: { left: [-62, 122], right: [62, 122], pair: [0, 128], close: [0, 128] },
  room: { left: [-96, 122], right: [96, 122], pair: [-18, 150], close: [22, 150] },
};

export interface PlannedPiece {
  readonly piece: Piece;
  readonly spot: Spot;
  readonly mics: readonly Mic[];
  /** Layers that play at its strokes. */
  readonly layers: number;
}
export interface PlannedMic {
  readonly mic: Mic;
  readonly x: number;
  readonly y: number;
}

/** Where a piece usually stands; for one that is added by hand. */
export const usualPlace = (piece: Piece, mirrored: boolean): readonly [number, number] => {
  const { x, y } = spots[piece]!;
  return [mirrored ? -x : x, y];
};
/** Pieces that the plan can show. */
export const plannable = Object.keys(spots) as Piece[];

/** Drums of a song that have a mic or were added, and its far mics, on the plan; pieces that were moved stand where they were put. */
export function planKit(
  mics: readonly Mic[],
  plan: PlanSettings,
): { pieces: PlannedPiece[]; far: PlannedMic[] } {
  const side = plan.mirrored ? -1 : 1;
  const spotOf = (piece: Piece): Spot => {
    const usual = spots[piece]!;
    const [x, y] = plan.places[piece] ?? [side * usual.x, usual.y];
    return { ...usual, x, y };
  };
  const pieces = (Object.keys(spots) as Piece[])
    .map((piece) => ({
      piece,
      spot: spotOf(piece),
      mics: mics.filter((m) => m.piece === piece),
      layers: mics.filter((m) => m.layer?.drum === piece).length,
    }))
    .filter((p) => p.mics.length + p.layers > 0 || plan.places[p.piece] !== undefined);
  const taken = new Set<string>();
  const far = mics
    .filter((m) => farSpots[m.piece])
    .map((mic) => {
      const places = farSpots[mic.piece]!;
      const [usual, y] = places[mic.place] ?? places.close!;
      let x = usual;
      while (taken.has(`${x} ${y}`)) x += 24;
      taken.add(`${x} ${y}`);
      return { mic, x, y };
    });
  return { pieces, far };
}
