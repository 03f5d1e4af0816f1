import type { Section, SectionValues } from "../song/song";

/** A stretch of the song in frames. */
interface Stretch {
  readonly id: string;
  readonly from: number;
  readonly to: number;
}

/** The sections of a song on its time line in frames, to ask which one an instant lies in. */
export class SectionMap {
  private readonly stretches: readonly Stretch[];
  constructor(sections: readonly Section[], sampleRate: number) {
    this.stretches = sections.map(({ id, from, to }) => ({
      id,
      from: Math.round(from * sampleRate),
      to: Math.round(to * sampleRate),
    }));
  }
  /** Id of the section that a frame lies in; null outside of all. The later one where two overlap. */
  at(frame: number): string | null {
    for (let i = this.stretches.length - 1; i >= 0; i--) {
      const s = this.stretches[i]!;
      if (frame >= s.from && frame < s.to) return s.id;
    }
    return null;
  }
}

/** Names that some section gives another value. */
export const variedNames = (bySection: SectionValues | undefined): string[] => [
  ...new Set(Object.values(bySection ?? {}).flatMap((values) => Object.keys(values))),
];
