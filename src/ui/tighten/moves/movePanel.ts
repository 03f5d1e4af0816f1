import type { Song, TightenSettings } from "../../../core/song/song";

/** What the panels of the moves show and set. */
export interface MovePanelProps {
  readonly song: Song;
  readonly settings: TightenSettings;
  /** Takes some settings; a gesture under way is `done` when it ends. */
  readonly store: (next: Partial<TightenSettings>, done: boolean) => void;
}
