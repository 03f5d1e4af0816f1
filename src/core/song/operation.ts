import type { ParamValue } from "../params";
import type { PieceNames } from "./renamePieces";
import type {
  AlignSettings,
  Bus,
  DetectionSettings,
  Edit,
  Hit,
  Mic,
  PlanSettings,
  ShapingSettings,
  ProcessorState,
  Section,
  SectionValues,
  Send,
  Song,
  Tempo,
  TightenSettings,
} from "./song";

export type MicValues = Partial<
  Pick<
    Mic,
    | "piece"
    | "place"
    | "sure"
    | "level"
    | "muted"
    | "soloed"
    | "silent"
    | "unplayed"
    | "reference"
    | "lateBy"
    | "peakDbfs"
    | "output"
    | "levelBySection"
    | "levelMoves"
    | "locked"
    | "start"
    | "audio"
    | "clockPpm"
    | "frames"
    | "ownEdits"
    | "layer"
  >
>;
export type BusValues = Partial<
  Pick<
    Bus,
    | "name"
    | "piece"
    | "level"
    | "levelBySection"
    | "levelMoves"
    | "pan"
    | "width"
    | "muted"
    | "soloed"
    | "output"
  >
>;
export interface SongValues {
  readonly title?: string;
  readonly tempo?: Tempo | null;
  readonly hits?: readonly Hit[];
  readonly bleed?: Song["bleed"];
  readonly heardAs?: Song["heardAs"];
  readonly detection?: DetectionSettings;
  readonly sections?: readonly Section[];
  readonly referenceRecord?: string | null;
  readonly align?: AlignSettings;
  readonly plan?: PlanSettings;
  readonly shaping?: ShapingSettings;
  readonly quick?: Song["quick"];
  readonly tighten?: TightenSettings;
  readonly edits?: readonly Edit[];
  readonly refused?: readonly string[];
}

/** One change of a song. Everything that changes a song is one of these, and has an inverse of the same kind. */
export type Operation =
  | { readonly op: "setSong"; readonly values: SongValues }
  | { readonly op: "setMic"; readonly mic: string; readonly values: MicValues }
  | { readonly op: "setBus"; readonly bus: string; readonly values: BusValues }
  | {
      readonly op: "setProcessor";
      /** Mic or bus. */
      readonly owner: string;
      readonly processor: string;
      readonly on?: boolean;
      readonly params?: Readonly<Record<string, ParamValue>>;
      /** Values by section, whole: what is not in it no longer differs. */
      readonly bySection?: SectionValues;
      /** Mic or bus to which its detector listens; null: to its own input. */
      readonly key?: string | null;
      readonly response?: string | null;
    }
  /** The whole chain of a mic or bus: processors come in, go, or change places. */
  | { readonly op: "setChain"; readonly owner: string; readonly chain: readonly ProcessorState[] }
  /** Drums are called otherwise, and what was found of them goes along. */
  | { readonly op: "renamePieces"; readonly names: PieceNames }
  | { readonly op: "setSends"; readonly owner: string; readonly sends: readonly Send[] }
  /** `order`: ids of all that are then there, as they stand; missing: new ones at the end, the others as they were. */
  | { readonly op: "addMics"; readonly mics: readonly Mic[]; readonly order?: readonly string[] }
  | { readonly op: "removeMics"; readonly mics: readonly string[]; readonly order?: readonly string[] }
  | { readonly op: "addBuses"; readonly buses: readonly Bus[]; readonly order?: readonly string[] }
  /** Nothing may go there any more (routes.withoutBus). */
  | { readonly op: "removeBuses"; readonly buses: readonly string[]; readonly order?: readonly string[] }
  | { readonly op: "several"; readonly operations: readonly Operation[] };
