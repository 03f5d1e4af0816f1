/** A stored document or operation of any former format. */
export type Json = Readonly<Record<string, unknown>>;

/** Brings what was stored with one format to the next. Every step only adds what is missing, so that it can be taken again. */
export interface FormatStep {
  readonly song: (song: Json) => Json;
  /** One operation; those inside `several` come one by one. */
  readonly operation: (operation: Json) => Json;
}

export const each = (value: unknown, change: (item: Json) => Json): unknown =>
  Array.isArray(value) ? value.map((item) => change(item as Json)) : value;

/** Changes what operations carry: whole mics, and fields of the song. */
export const carried =
  (mic: (mic: Json) => Json, fields: (values: Json) => Json) =>
  (o: Json): Json => {
    if (o["op"] === "addMics") return { ...o, mics: each(o["mics"], mic) };
    if (o["op"] === "setSong") return { ...o, values: fields(o["values"] as Json) };
    return o;
  };

/** A field changed where it is there. */
export const changed = (values: Json, name: string, change: (value: unknown) => unknown): Json =>
  values[name] === undefined ? values : { ...values, [name]: change(values[name]) };

/** A step in which processors got more parameters. Shape  by type: the values at which they are what they were. */
export function completing(more: Readonly<Record<string, Json>>): FormatStep {
  const completed = (p: Json): Json => {
    const added = more[p["type"] as string];
    return added ? { ...p, params: { ...added, ...(p["params"] as Json) } } : p;
  };
  const owner = (o: Json): Json => ({ ...o, chain: each(o["chain"], completed) });
  return {
    song: (song) => ({ ...song, mics: each(song["mics"], owner), buses: each(song["buses"], owner) }),
    operation(o) {
      if (o["op"] === "addMics") return { ...o, mics: each(o["mics"], owner) };
      if (o["op"] === "addBuses") return { ...o, buses: each(o["buses"], owner) };
      return o["op"] === "setChain" ? owner(o) : o;
    },
  };
}
