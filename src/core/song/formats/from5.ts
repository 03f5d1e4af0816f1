import { each, type FormatStep, type Json } from "./step";

/** Sends told only whether they were taken before the fader, and went where the pan put them. */
const sendOf = ({ beforeFader, ...send }: Json): Json => ({
  from: beforeFader ? "chain" : "fader",
  followsPan: true,
  ...send,
});
const listening: readonly unknown[] = ["gate", "dynamicEq"];

/** A mic had one key for its gate and its dynamic EQ. */
function micOf({ key, ...mic }: Json): Json {
  const keyed = (p: Json): Json => (key && listening.includes(p["type"]) ? { key, ...p } : p);
  return { ...mic, sends: each(mic["sends"], sendOf), chain: each(mic["chain"], keyed) };
}
const busOf = (bus: Json): Json => ({
  piece: null,
  pan: 0,
  width: 100,
  ...bus,
  sends: each(bus["sends"] ?? [], sendOf),
});

function setMic(o: Json): Json {
  const { key, ...values } = o["values"] as Json;
  if (key === undefined) return o;
  const keys = listening.map((type) => ({
    op: "setProcessor",
    owner: o["mic"],
    processor: `${String(o["mic"])}.${String(type)}`,
    key,
  }));
  const rest = Object.keys(values).length > 0 ? [{ ...o, values }] : [];
  return { op: "several", operations: [...rest, ...keys] };
}

/** Buses feed buses, sends come from anywhere in a chain, every detector has a key of its own, chains are free. */
export const from5: FormatStep = {
  song: (song) => ({ ...song, mics: each(song["mics"], micOf), buses: each(song["buses"], busOf) }),
  operation(o) {
    if (o["op"] === "addMics") return { ...o, mics: each(o["mics"], micOf) };
    if (o["op"] === "setMic") return setMic(o);
    if (o["op"] !== "setSends") return o;
    const { mic, ...rest } = o;
    return { ...(mic === undefined ? {} : { owner: mic }), ...rest, sends: each(o["sends"], sendOf) };
  },
};
