import type { Song } from "../song/song";

/** What the song is compared with. */
export type Comparison =
  | { readonly kind: "nothing" }
  /** The song without some of its processors. */
  | { readonly kind: "processors"; readonly ids: readonly string[] }
  /** The song without its parallel and room buses. */
  | { readonly kind: "parallel" }
  /** The playing as it was recorded, without the timing edits. */
  | { readonly kind: "timing" }
  /** The recording as it came in. */
  | { readonly kind: "untreated" }
  /** Another revision of the song with the same mics. */
  | { readonly kind: "version"; readonly song: Song }
  /** The song's reference record. */
  | { readonly kind: "reference" };

/** Which side is heard; the difference is what a comparison takes away or adds. */
export type Side = "with" | "without" | "difference";

/** How the result is listened to. None of it touches the song. */
export interface MonitorSettings {
  readonly mono: boolean;
  readonly swapped: boolean;
  /** Only what a small loudspeaker gives. */
  readonly small: boolean;
  readonly dimmed: boolean;
  /** The music beside the drums is heard. */
  readonly context: boolean;
}

export interface Listening {
  readonly comparison: Comparison;
  readonly side: Side;
  /** Both sides are brought to the same loudness. */
  readonly matched: boolean;
  /** Stretch over which loudness is compared, frames; null: what was heard last. */
  readonly range: { readonly from: number; readonly to: number } | null;
  readonly monitor: MonitorSettings;
}

export const plainMonitor: MonitorSettings = {
  mono: false,
  swapped: false,
  small: false,
  dimmed: false,
  context: true,
};

/** Plain listening to the mix. */
export const plainListening: Listening = {
  comparison: { kind: "nothing" },
  side: "with",
  matched: true,
  range: null,
  monitor: plainMonitor,
};
