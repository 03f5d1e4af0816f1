import type { Step } from "../../core/song/song";

/** A figure that is told somewhere in a step. */
export interface FigureHelp {
  readonly name: string;
  /** What it means to who mixes. */
  readonly means: string;
  /** How it was measured, with the source of a formula where it has one. */
  readonly measured: string;
}
export interface StepHelp {
  /** What the step is for, in one line. */
  readonly purpose: string;
  /** How one works in it. */
  readonly ways: readonly string[];
  readonly figures: readonly FigureHelp[];
}

const peak: FigureHelp = {
  name: "dBFS, dBTP",
  means: "How near something comes to the largest value that a file can hold; 0 is there, −6 is half of it.",
  measured:
    "dBFS by the samples themselves; dBTP between them as well, four times oversampled (ITU-R BS.1770, annex 2).",
};
const loudness: FigureHelp = {
  name: "LUFS",
  means: "How loud something is to the ear; one more is heard as a little louder, ten as twice as loud.",
  measured:
    "Power weighted by frequency as the ear does, silence left out by two gates (ITU-R BS.1770, annex 1; EBU R 128).",
};
const share: FigureHelp = {
  name: "%, behind a label or a stroke",
  means:
    "How sure Jubo is. Of what is said to be 80 % sure about 80 of 100 are right. Labels below 75 % are asked about, doubtful strokes are listed.",
  measured: "Fitted on sessions with known truth and held against others that took no part.",
};

/** Every step, told to who sees it for the first time. */
export const stepHelp: Readonly<Record<Step, StepHelp>> = {
  gather: {
    purpose: "Bring the files in, say what each mic hears, and give all of them a sensible level.",
    ways: [
      "Drop files, folders or a ZIP anywhere on the list; what they hear is read from their names and their sound.",
      "Where a label was only heard, it is asked about: A plays the file alone, Yes settles it.",
      "In the list, Shift and two letters label a file, as in Shift S, T for snare top.",
    ],
    figures: [
      peak,
      {
        name: "Crest",
        means: "How far peaks stand out of the whole: drums have 12 to 20 dB as a rule of thumb.",
        measured: "Largest sample against the mean power, dB.",
      },
      share,
    ],
  },
  align: {
    purpose: "Put mics of one drum in phase, so that together they have more low end and not less.",
    ways: [
      "Each card turns a second mic over or moves it until the low end of both adds up best.",
      "P turns the chosen mic over, comma and full stop move it; overheads can become the clock of the kit.",
    ],
    figures: [
      {
        name: "Low end of the sum",
        means:
          "What both mics together have below 250 Hz, against the louder of them: up to +6 dB when they agree, far below 0 when they cancel.",
        measured: "Energy of the sum over the strokes of that drum, before and after.",
      },
      {
        name: "ms, frames, metres",
        means: "How much later a mic hears the drum; sound goes 34 cm in a millisecond.",
        measured:
          "Lag at which both mics are most alike over all strokes, to a part of a frame; 343 m/s at 20 °C.",
      },
      {
        name: "Alike, %",
        means:
          "How much of a band both mics hear in the same way: with 100 % it adds up or cancels whole, with 0 % it does neither.",
        measured: "Coherence of both over the strokes, by band.",
      },
    ],
  },
  tighten: {
    purpose: "See every stroke, correct what was found, and move strokes to the beat as much as you like.",
    ways: [
      "Choose a drum for all its strokes above each other: arrows pass and hear them, V makes one a ghost note or a main one, Delete drops it.",
      "Strength says how much of the way strokes go; what lies near enough is left alone. All mics are cut alike.",
      "Review passes from move to move, A plays it as it was played.",
    ],
    figures: [
      {
        name: "Spread",
        means: "How far strokes lie from the grid; 5 to 15 ms are usual for good players (a rule of thumb).",
        measured:
          "Root of the mean square distance of leading main strokes from the nearest line of the grid, before and after the cuts.",
      },
      share,
    ],
  },
  clean: {
    purpose: "Take the other drums out of every mic, as gently as it can be done.",
    ways: [
      "Take the proposals, then compare “with” and “without”, or hear the difference alone with D.",
      "Each way of cleaning is judged by what it does to bleed and to strokes, tails and ghost notes.",
    ],
    figures: [
      {
        name: "Bleed, dB",
        means:
          "How much quieter a way of cleaning makes the other drums in a mic; −20 is a tenth of what was there.",
        measured: "Energy at strokes of other drums that lie apart from its own, with it against without.",
      },
      {
        name: "Strokes, dB",
        means: "What cleaning costs the drum itself; 0 is nothing.",
        measured: "Energy of the first 80 ms of main strokes with it and without, in the middle.",
      },
      {
        name: "Place in the overheads",
        means: "Where a cymbal is heard between left and right, and where close mics pull it.",
        measured: "Power above 3 kHz of both sides at its strokes, their difference against their sum.",
      },
    ],
  },
  shape: {
    purpose: "Give each drum its sound: tone, attack, length and weight, judged over all of its strokes.",
    ways: [
      "Quick controls turn several processors at once; the chain shows which, and everything can be set by hand.",
      "Pictures show all strokes as they come in and as they leave; drag a wished reduction, sweep a band by ear.",
    ],
    figures: [
      {
        name: "Reduction, dB",
        means: "How far a compressor turns a stroke down at most.",
        measured: "Within the first 80 ms of every stroke, told for half of them and for the loudest.",
      },
      {
        name: "Peak and loudness, dB",
        means:
          "What a processor does to the peaks, and to how loud strokes are; “matched” takes the second away.",
        measured: "K-weighted power of 200 ms from the stroke on (ITU-R BS.1770), before and after.",
      },
      {
        name: "T60",
        means: "How long a ring takes to die away by 60 dB.",
        measured: "Slope of the decay between strokes in a narrow band, as in room acoustics (ISO 3382).",
      },
    ],
  },
  blend: {
    purpose: "Balance the drums, place them, and blend in parallel paths.",
    ways: [
      "Take the balance, then make it yours; Ctrl and a press choose several rows that move together.",
      "Paths come in at nothing: Alt and the arrows ride one up while it plays.",
      "“Checks” says what is wrong now, worst first, and leads to where it is mended.",
    ],
    figures: [
      loudness,
      {
        name: "L/R",
        means: "1: both sides are the same, 0: they have nothing in common, below 0: they cancel in mono.",
        measured: "Product of left and right over the root of their powers, while it plays.",
      },
      {
        name: "What a path brings, dB",
        means: "How much louder each drum becomes by it, cymbals as well.",
        measured:
          "The kit over 30 s with the path at 0 dB and without it, over the first 120 ms of half of the strokes.",
      },
      {
        name: "Loss in mono, dB",
        means: "What is gone where left and right come from one loudspeaker.",
        measured: "Power of the sum of both sides against their powers, by band and by mic.",
      },
    ],
  },
  deliver: {
    purpose: "Render the kit and its parts, check them, and hand them on.",
    ways: [
      "Choose what goes out and its form; the names are shown before anything is written.",
      "Every file can be heard here; one press packs all of them as a ZIP.",
    ],
    figures: [
      peak,
      loudness,
      {
        name: "Stems against the kit, dB",
        means: "What is left when the stems are taken from the kit; below −120 dB it is the same.",
        measured: "Loudest sample of the difference, where nothing works on the kit as a whole.",
      },
    ],
  },
};
