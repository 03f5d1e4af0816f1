import type { Hit } from "../song/song";
import type { Arrival } from "./analysed";
import type { MicTaskRunner } from "./micTasks";
import { farMics, secondOf, type TimedMic, type Timing } from "./timing";

/** How the mics of a kit lie against each other in time. */
export interface Timings {
  /** When every drum arrives in every channel of the far mics. */
  readonly arrivals: Arrival[];
  /** Drift of the clocks of far mics by file, millionths; only where there is one. */
  readonly drifts: ReadonlyMap<string, number>;
  /** Per mic: its main mic and when it hears the strokes later; null: it has none. */
  readonly seconds: readonly ({ readonly main: TimedMic; readonly timing: Timing | null } | null)[];
}

/** Measures far mics and second mics, spread over threads. */
export async function measureTimings(
  mics: readonly TimedMic[],
  hits: readonly Hit[],
  sampleRate: number,
  run: MicTaskRunner,
): Promise<Timings> {
  const farAsks = farMics(mics, hits, sampleRate);
  const pairs = mics.map((mic) => secondOf(mics, mic, hits, sampleRate));
  const [far, timings] = await Promise.all([
    run("arrivals", farAsks),
    run(
      "second",
      pairs.flatMap((p) => p?.ask ?? []),
    ),
  ]);
  let told = 0;
  return {
    arrivals: far.flatMap((m) => m.arrivals),
    drifts: new Map(far.flatMap(({ ppm }, i) => (ppm === 0 ? [] : [[farAsks[i]!.file, ppm]]))),
    seconds: pairs.map((p) => p && { main: p.main, timing: timings[told++]! }),
  };
}
