import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { designHarmonics, driveAt, type HarmonicsDesign, type HarmonicsValues } from "./harmonics";
import { BentLanes } from "../../lanes/bentLanes";
import { KernelRows } from "../../lanes/kernelRows";
import { laneCount, laneFrames, LaneWait } from "../../lanes/laneMemory";
import type { LaneContext, LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { SectionRows } from "../../lanes/sectionRows";
import { HitCursor } from "../../signal/hitCursor";
import { Oversampler } from "../../signal/oversampler";
import { bendBits } from "./characters";

/** Harmonics of a band over four lanes. */
export class HarmonicsLanes implements LaneProcessor {
  readonly latency = Oversampler.latency;
  private readonly rows: KernelRows;
  private readonly bends: BentLanes;
  private readonly into: SectionRows;
  private readonly before: SectionRows;
  private readonly behind: SectionRows;
  private readonly bumps: SectionRows;
  private readonly bumpLine: LaneWait;
  private readonly band: number;
  private readonly bumped: number;
  private readonly drives;
  private readonly designs: (HarmonicsDesign | null)[];
  private readonly cursors: readonly HitCursor[];
  private bumping = false;
  private follows = false;
  private finishes = false;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.rows.params.values.fill(1, laneCount * layout.DRIVE, laneCount * (layout.DRIVE + 1));
    this.bends = new BentLanes(format, this.rows.params);
    const filters = (places: number) => new SectionRows(memory, owners, places);
    this.into = filters(2);
    this.before = filters(2);
    this.behind = filters(4);
    this.bumps = filters(1);
    this.bumpLine = new LaneWait(memory, this.latency);
    for (const lanes of owners) this.bumpLine.set(lanes, this.latency);
    this.band = memory.lanes();
    this.bumped = memory.lanes();
    this.drives = memory.floats(laneCount * laneFrames);
    this.designs = owners.map(() => null);
    this.cursors = owners.map(() => new HitCursor());
  }
  set(owner: number, values: AnyValues): void {
    const v = values as unknown as HarmonicsValues;
    const d = designHarmonics(v, this.format.sampleRate);
    this.designs[owner] = d;
    this.rows.set(owner, {
      [layout.DRIVE]: d.drive,
      [layout.ODD]: d.odd,
      [layout.EVEN]: d.even,
      [layout.HARD]: Number(d.bend === "hard"),
      [layout.ROUNDED]: Number(d.bend === "rounded"),
      [layout.FOLDED]: Number(d.bend === "folded"),
      [layout.ONE_SIDED]: Number(d.bend === "one-sided"),
      [layout.MATCHED]: Number(d.matched),
      [layout.OUTPUT]: d.output,
      [layout.AVERAGING]: d.averaging,
      [layout.PAIRED]: Number(this.format.owners[owner]!.width > 1),
    });
    this.bends.choose(owner, v.oversampling, bendBits[d.bend]);
    this.into.set(owner, d.band);
    this.before.set(owner, d.before);
    this.behind.set(owner, d.behind);
    this.bumps.set(owner, d.bare ? [] : d.bump);
    const some = (is: (design: HarmonicsDesign) => boolean) => this.designs.some((each) => each && is(each));
    this.bumping = this.bumps.used !== 0;
    this.follows = some((each) => each.follows !== "nothing");
    this.finishes = some((each) => each.matched || each.output !== 1);
  }
  reset(owner: number): void {
    this.rows.clear(owner);
    this.bends.reset(owner);
    for (const filters of [this.into, this.before, this.behind, this.bumps]) filters.reset(owner);
    this.bumpLine.reset(this.format.owners[owner]!);
  }
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (from instanceof HarmonicsLanes) this.rows.adopt(owner, from.rows, fromOwner);
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof HarmonicsLanes)) return;
    this.bends.adoptLine(owner, from.bends, fromOwner);
    this.into.adopt(owner, from.into, fromOwner);
    this.before.adopt(owner, from.before, fromOwner);
    this.behind.adopt(owner, from.behind, fromOwner);
    this.bumps.adopt(owner, from.bumps, fromOwner);
    this.bumpLine.adopt(this.format.owners[owner]!, from.bumpLine, from.format.owners[fromOwner]!);
  }
  process(x: number, dry: number, frames: number, context: LaneContext): void {
    const { band, bumped } = this;
    const { kernels } = this.format.memory;
    const floats = laneCount * frames;
    const drives = this.follows ? this.findDrives(context, frames) : 0;
    kernels.copyFloats(x, band, floats);
    this.into.process(band, frames);
    if (this.bumping) {
      kernels.copyFloats(band, bumped, floats);
      this.bumps.process(bumped, frames);
      kernels.addFloats(bumped, band, -1, bumped, floats);
      this.bumpLine.process(bumped, frames, kernels);
    }
    this.before.process(band, frames);
    this.bends.process(band, 0, frames, drives);
    this.behind.process(band, frames);
    if (this.bumping) kernels.addFloats(band, bumped, 1, band, floats);
    kernels.addFloats(dry, band, 1, x, floats);
    if (this.finishes) kernels.matchLevels(this.rows.params.pointer, this.rows.state.pointer, dry, x, frames);
  }
  private findDrives({ hits, positions }: LaneContext, frames: number): number {
    const { values, pointer } = this.drives;
    const { owners, sampleRate } = this.format;
    values.fill(1);
    owners.forEach(({ first, width }, owner) => {
      const d = this.designs[owner];
      if (!d) return;
      for (let i = 0; i < frames; i++) {
        const at = positions[owner]! + i;
        const since = d.follows === "nothing" ? 0 : at - this.cursors[owner]!.latest(hits[owner]!, at);
        const drive = driveAt(d, since / sampleRate);
        for (let lane = first; lane < first + width; lane++) values[laneCount * i + lane] = drive;
      }
    });
    return pointer;
  }
}
