import { stereoPlace, type LaneMemory, type StereoPlace } from "../lanes/laneMemory";
import { isMic, keysOf, mixOrder } from "../song/graph";
import type { Bus, Mic, Song } from "../song/song";
import { kitLatency } from "./cancelStage";
import { ChainWeave } from "./chainWeave";
import { LaneChain } from "./laneChain";
import type { Fader } from "./fader";
import type { Lanes } from "./lanes";
import { LateMic } from "./lateMic";
import { chainKeys, micLatency } from "./micBank";
import { tapOf, tapsNeeded, type MicTap } from "./micTaps";
import { BusNode, Feed } from "./mixNodes";
import { mixTimes, planUnits, type PlannedUnit } from "./mixPlan";

/** What is computed together: buses whose chains are woven together, or a mic that waits for a bus. */
export type Unit =
  { readonly mic: LateMic } | { readonly chain: Lanes | null; readonly buses: readonly BusNode[] };

/** Where sound comes from, and the frames by which it is late there. */
interface Source {
  readonly place: () => StereoPlace;
  readonly late: number;
}
/** One that passes a fader on its way; null: none. */
interface FadedSource extends Source {
  readonly fader: Fader | null;
}

/** The units of a mixer, made one by one in the order in which they run: each reads what those before it give. */
export class MixUnits {
  readonly planned: PlannedUnit[];
  readonly made: Unit[] = [];
  readonly micLate: number;
  /** By mic and tap: what is read of the mics, and where it comes in. */
  readonly taps: readonly (readonly MicTap[])[];
  readonly places: readonly (readonly StereoPlace[])[];
  private readonly buses = new Map<string, BusNode>();
  private readonly late = new Map<string, LateMic>();
  private readonly times: ReturnType<typeof mixTimes>;

  /** Errors  TypeError without a kit bus, RangeError for a loop. */
  constructor(
    private readonly song: Song,
    private readonly memory: LaneMemory,
  ) {
    this.micLate = micLatency(song);
    this.taps = tapsNeeded(song);
    this.places = this.taps.map((names) => names.map(() => stereoPlace(memory)));
    this.planned = planUnits(song);
    this.times = mixTimes(song, this.planned);
  }

  add(unit: PlannedUnit): void {
    const owners = "mic" in unit ? [unit.mic] : unit.buses;
    const keys = keysOf(owners[0]!);
    const { arrival } = this.times.get(owners[0]!.id)!;
    const waited = keys.filter((id) => "buses" in unit || this.buses.has(id));
    const keyFeeds = new Map(
      waited.map((id) => [id, this.feed({ ...this.keySource(id), fader: null }, arrival)]),
    );
    if ("mic" in unit) this.addMic(unit.mic, arrival, keyFeeds);
    else this.addBuses(unit.buses, keys, arrival, [...keyFeeds.values()]);
  }

  private addMic(mic: Mic, arrival: number, keyFeeds: ReadonlyMap<string, Feed>): void {
    const { song, memory, taps } = this;
    const made = new LateMic(song, mic, memory, taps, arrival, kitLatency(song), keyFeeds);
    this.late.set(mic.id, made);
    this.made.push({ mic: made });
  }

  private addBuses(
    buses: readonly Bus[],
    keys: readonly string[],
    arrival: number,
    keyFeeds: readonly Feed[],
  ): void {
    const { memory, micLate } = this;
    // All are read before the first is there: none hears another of its own unit.
    const sources = buses.map((bus) => this.sourcesOf(bus));
    const chain = this.chainOf(buses, keys);
    const nodes = buses.map((bus, owner) => {
      const feeds = sources[owner]!.map((s) => this.feed(s, arrival));
      return new BusNode(bus, memory, chain, owner, arrival, micLate, feeds, keyFeeds);
    });
    for (const node of nodes) this.buses.set(node.bus.id, node);
    this.made.push({ chain, buses: nodes });
  }

  /** What runs the chains of a unit's buses: woven where they are several. */
  private chainOf(buses: readonly Bus[], keys: readonly string[]): Lanes | null {
    const { memory, song } = this;
    const [first] = buses;
    if (!first || first.chain.length === 0) return null;
    const owners = buses.map((b) => ({ chain: b.chain, channels: 2 }));
    return owners.length > 1
      ? new ChainWeave(memory, owners, song.sampleRate)
      : new LaneChain(memory, owners, song.sampleRate, { keys: chainKeys(first.chain, keys, () => 2) });
  }

  private feed({ place, late, fader }: FadedSource, arrival: number): Feed {
    return new Feed(this.memory, place, arrival - late, fader);
  }

  /** What is listened to by a bus or by a mic that waits: behind its chain, before its fader. */
  private keySource(id: string): Source {
    const bus = this.buses.get(id);
    if (bus) return { place: () => bus.output, late: bus.late };
    const waits = this.late.get(id);
    if (waits) return { place: () => waits.place("centred"), late: waits.late };
    const m = this.song.mics.findIndex((x) => x.id === id);
    const place = this.places[m]![this.taps[m]!.indexOf("centred")]!;
    return { place: () => place, late: this.micLate };
  }

  /** What comes into a bus from other buses and from mics that wait. */
  private sourcesOf(bus: Bus): FadedSource[] {
    return mixOrder(this.song).flatMap((owner): FadedSource[] => {
      const from = isMic(owner) ? this.late.get(owner.id) : this.buses.get(owner.id);
      if (!from) return [];
      const sends = owner.sends.flatMap((send, i): FadedSource[] => {
        if (send.bus !== bus.id) return [];
        const place =
          from instanceof LateMic
            ? () => from.place(tapOf(send))
            : send.from === "input"
              ? () => from.input
              : send.followsPan
                ? () => from.shaped
                : () => from.output;
        const late = from instanceof BusNode && send.from === "input" ? from.arrival : from.late;
        return [{ place, late, fader: from.strip.sends[i]!.fader }];
      });
      const straight: FadedSource[] =
        owner.output === bus.id ? [{ place: () => from.faded, late: from.late, fader: null }] : [];
      return [...straight, ...sends];
    });
  }
}
