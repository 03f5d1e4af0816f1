import { carried, each, type FormatStep, type Json } from "./step";

/** The phase rotation stands behind the polarity. */
function withRotation(mic: Json): unknown {
  const chain = mic["chain"] as readonly Json[];
  if (chain.some((p) => p["type"] === "rotation")) return chain;
  const rotation = {
    id: `${String(mic["id"])}.rotation`,
    type: "rotation",
    on: false,
    params: { frequency: 200, q: 0.7 },
  };
  return chain.flatMap((p) => (p["type"] === "polarity" ? [p, rotation] : [p]));
}
const withStart = (mic: Json): Json => ({
  start: 0,
  clockPpm: 0,
  timeReference: null,
  locked: false,
  ...mic,
  chain: withRotation(mic),
});

/** Files may start late, mics be locked and turned in phase; what the kit is aligned to and how it stands came in. */
export const from2: FormatStep = {
  song: (song) => ({
    align: { anchor: "close", rooms: null },
    plan: { mirrored: false, places: {} },
    ...song,
    mics: each(song["mics"], withStart),
  }),
  operation: carried(withStart, (values) => values),
};
