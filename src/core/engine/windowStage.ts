import { laneFrames } from "../lanes/laneMemory";
import type { Song } from "../song/song";
import { CancelStage } from "./cancelStage";
import { PositionLine } from "./positionLine";
import { windowFrames, type RenderWindow } from "./renderWindow";
import { SectionMap } from "./sectionValues";

/** Takes windows of all mics through the stage before their chains, in place. Windows must follow each other. */
export class WindowStage {
  private readonly stage: CancelStage;
  private readonly positions: PositionLine;

  constructor(song: Song) {
    this.stage = new CancelStage(song);
    this.stage.update(song, new SectionMap(song.sections, song.sampleRate));
    this.stage.reset(0);
    this.positions = new PositionLine(this.stage.latency);
  }
  /** Nothing is cancelled: windows may be left out. */
  get idle(): boolean {
    return this.stage.latency === 0;
  }
  /** `from` is the song frame of the window's first frame. */
  run({ inputs }: RenderWindow, from: number): void {
    if (this.idle) return;
    for (let at = 0; at < windowFrames; at += laneFrames) {
      const blocks = inputs.map((channels) => channels.map((x) => x.subarray(at, at + laneFrames)));
      this.positions.put(from + at);
      this.stage.process(blocks, this.positions);
      blocks.forEach((channels, m) => channels.forEach((x, ch) => x.set(this.stage.outputs[m]![ch]!)));
    }
  }
}
