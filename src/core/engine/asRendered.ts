import type { AnyValues } from "../params";
import { processorType } from "../processors";
import type { ProcessorState, Song } from "../song/song";

/** What a declaration makes of some values, as far as that differs. */
function changed(of: (values: AnyValues) => AnyValues, values: AnyValues): AnyValues {
  return Object.fromEntries(Object.entries(of(values)).filter(([name, value]) => value !== values[name]));
}

/** A processor with the values with which files are made, in every section. */
function rendered(p: ProcessorState): ProcessorState {
  const { rendered: of } = processorType(p.type);
  const params = { ...p.params, ...changed(of, p.params) };
  if (!p.bySection) return { ...p, params };
  const bySection = Object.fromEntries(
    Object.entries(p.bySection).map(([id, own]) => [id, { ...own, ...changed(of, { ...p.params, ...own }) }]),
  );
  return { ...p, params, bySection };
}

/** A song as files are made of it: some processors do more then than while it plays. Pure. */
export function asRendered(song: Song): Song {
  const owner = <T extends { readonly chain: readonly ProcessorState[] }>(one: T): T => ({
    ...one,
    chain: one.chain.map(rendered),
  });
  return { ...song, mics: song.mics.map(owner), buses: song.buses.map(owner) };
}
