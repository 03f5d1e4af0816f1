import { processorType } from "../../../core/processors";
import type { Song, Step } from "../../../core/song/song";

/** One place where the guide stops. */
export interface Stop {
  readonly step: Step;
  readonly title: string;
  readonly text: string;
  /** What it speaks of, as a selector; the first that is there is marked. */
  readonly target: string;
  /** True when what it asks for was done. */
  readonly done?: (song: Song) => boolean;
}

/** True where some mic has a working processor of a step. */
const works = (step: string) => (song: Song) =>
  song.mics.some((m) => m.chain.some((p) => p.on && processorType(p.type).step === step));

/** From the files to a finished kit in two minutes. */
export const stops: readonly Stop[] = [
  {
    step: "gather",
    title: "These are the mics",
    text: "Each file was told by its name and its sound: which drum it hears, and from where. On the left stands the kit; press a drum, and everything here is about that drum.",
    target: ".kit-side",
  },
  {
    step: "gather",
    title: "Hear it",
    text: "Press Play, or the space bar. What you hear is the whole kit as it stands now, computed while it plays.",
    target: ".transport .play",
  },
  {
    step: "align",
    title: "In phase first",
    text: "Two mics of one drum hear it at different times, and part of the low end is lost. Every card says what it would win. Press “Take all”.",
    target: ".take-all",
    done: (song) =>
      song.mics.some((m) =>
        m.chain.some(
          (p) =>
            (p.type === "delay" && p.params["delay"] !== 0) ||
            (p.type === "polarity" && p.params["polarity"] !== "as recorded"),
        ),
      ),
  },
  {
    step: "tighten",
    title: "Every stroke, in time",
    text: "All strokes of a drum lie above each other here. Corrections and moves are yours: nothing is moved until you say how much.",
    target: ".bench-area",
  },
  {
    step: "clean",
    title: "Bleed",
    text: "Every mic hears the other drums as well. “Take all” cancels what they leave and gates what remains; then listen to “with” and “without” on top.",
    target: ".take-all",
    done: works("clean"),
  },
  {
    step: "shape",
    title: "Sound",
    text: "Take the proposals for a sound to begin with. A press on a drum shows its chain, over all of its strokes.",
    target: ".take-all",
    done: works("shape"),
  },
  {
    step: "blend",
    title: "Balance",
    text: "Faders for every mic and bus. “Take all” sets the drums against each other by their loudness and brings parallel paths in; ride what you like while it plays.",
    target: ".take-all",
    done: (song) => song.mics.some((m) => m.level !== 0),
  },
  {
    step: "deliver",
    title: "Out of the door",
    text: "Choose what goes out, and press “Render the kit”. Every decision is in the report. Whatever you did here is undone step by step with Ctrl Z.",
    target: "[aria-label=Render]",
  },
];
