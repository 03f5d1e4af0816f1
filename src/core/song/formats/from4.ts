import { carried, each, type FormatStep, type Json } from "./step";

const band = (n: number, frequency: number): Json =>
  Object.fromEntries(
    Object.entries({
      Shape: "off",
      Frequency: frequency,
      Width: 0.7,
      Gain: 0,
      Range: -6,
      Threshold: -30,
      Hears: "band",
      Attack: 0.001,
      Hold: 0.01,
      Release: 0.1,
    }).map(([name, value]) => [`band${n}${name}`, value]),
  );
/** What processors got more of, by type. */
const more: Readonly<Record<string, Json>> = {
  gate: { hear: "gate" },
  dynamicEq: {
    lowHears: "band",
    highHears: "band",
    ...band(3, 200),
    ...band(4, 500),
    ...band(5, 1000),
    ...band(6, 2500),
    ...band(7, 5000),
    ...band(8, 9000),
  },
};
const completed = (p: Json): Json => {
  const added = more[p["type"] as string];
  return added ? { ...p, params: { ...added, ...(p["params"] as Json) } } : p;
};

/** Cancelling begins the chain. */
function withCancel(mic: Json): Json {
  const chain = (mic["chain"] as readonly Json[]).map(completed);
  const cancel = {
    id: `${String(mic["id"])}.cancel`,
    type: "cancel",
    on: false,
    params: { strength: 100, range: 40, smooth: 0.005 },
  };
  return { key: null, ...mic, chain: chain[0]?.["type"] === "cancel" ? chain : [cancel, ...chain] };
}

/**
 * Mics may cancel what the others hear, by how they hear the drums, which is to be measured anew, and their detectors listen
 * to another mic. The dynamic EQ got more bands.
 */
export const from4: FormatStep = {
  song: (song) => ({ bleed: {}, ...song, mics: each(song["mics"], withCancel) }),
  operation: carried(withCancel, (values) => values),
};
