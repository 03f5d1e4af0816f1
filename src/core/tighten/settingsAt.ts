import type { Section, SectionTighten, TightenSettings } from "../song/song";

/** Settings that hold at an instant: a section's own before those of the song. */
export function settingsAt(
  seconds: number,
  settings: TightenSettings,
  sections: readonly Section[],
): Required<SectionTighten> {
  const { strength, grid, swing, window, largest, bySection } = settings;
  const inside = sections.filter((s) => s.from <= seconds && seconds < s.to && bySection[s.id]);
  const own = inside.length > 0 ? bySection[inside[inside.length - 1]!.id]! : {};
  return { strength, grid, swing, window, largest, ...own };
}
