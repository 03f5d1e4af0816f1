import { each, type FormatStep, type Json } from "./step";

/** What a compressor got more of: at these values it is the one it was. */
const more: Json = { range: 100, hold: 0, releases: "even", works: "forward", lowPass: 20000, tilt: 0 };
const completed = (p: Json): Json =>
  p["type"] === "compressor" ? { ...p, params: { ...more, ...(p["params"] as Json) } } : p;
const owner = (o: Json): Json => ({ ...o, chain: each(o["chain"], completed) });

/** Compressors hold, stop at a most reduction, release by the programme, work backwards, and filter what they hear further. */
export const from6: FormatStep = {
  song: (song) => ({ ...song, mics: each(song["mics"], owner), buses: each(song["buses"], owner) }),
  operation(o) {
    if (o["op"] === "addMics") return { ...o, mics: each(o["mics"], owner) };
    if (o["op"] === "addBuses") return { ...o, buses: each(o["buses"], owner) };
    return o["op"] === "setChain" ? owner(o) : o;
  },
};
