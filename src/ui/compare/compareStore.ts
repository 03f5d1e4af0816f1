import { create } from "zustand";
import type { Side } from "../../core/listen/listening";
import type { Flavour, Song } from "../../core/song/song";
import type { Scope } from "./scopes";

/** A comparison in which one does not know which side is which. */
export interface Blind {
  /** True: "one" is the side with. Shuffled anew after every choice. */
  readonly oneIsWith: boolean;
  readonly choices: readonly ("with" | "without")[];
  readonly revealed: boolean;
}

interface CompareState {
  readonly scope: Scope;
  readonly side: Side;
  readonly matched: boolean;
  /** The earlier state that is compared with. */
  readonly version: { readonly position: number; readonly song: Song } | null;
  /** The flavour that is compared with. */
  readonly flavour: Flavour;
  readonly blind: Blind | null;
}

export const useCompare = create<CompareState>()(() => ({
  scope: "everything",
  side: "with",
  matched: true,
  version: null,
  flavour: "natural",
  blind: null,
}));

/** Changes sides at the same playhead. */
export const toggleCompare = (): void =>
  useCompare.setState((s) => ({ side: s.side === "with" ? "without" : "with" }));
/** Hears only what the comparison takes away or adds, or goes back. */
export const toggleDifference = (): void =>
  useCompare.setState((s) => (s.blind ? {} : { side: s.side === "difference" ? "with" : "difference" }));

const shuffled = (): boolean => crypto.getRandomValues(new Uint8Array(1))[0]! < 128;
export const startBlind = (): void => {
  const oneIsWith = shuffled();
  useCompare.setState({
    blind: { oneIsWith, choices: [], revealed: false },
    side: oneIsWith ? "with" : "without",
  });
};
export const endBlind = (): void => useCompare.setState({ blind: null, side: "with" });

/** Listens to one of the two unnamed sides. */
export const hearBlind = (which: "one" | "two"): void =>
  useCompare.setState(({ blind }) =>
    blind ? { side: (which === "one") === blind.oneIsWith ? "with" : "without" } : {},
  );
/** Prefers what is heard now; the sides are shuffled anew. */
export const preferBlind = (): void =>
  useCompare.setState(({ blind, side }) => {
    if (!blind || side === "difference") return {};
    const oneIsWith = shuffled();
    const choices = [...blind.choices, side];
    return { blind: { ...blind, choices, oneIsWith }, side: oneIsWith ? "with" : "without" };
  });
export const revealBlind = (): void =>
  useCompare.setState(({ blind }) => ({ blind: blind && { ...blind, revealed: true } }));
