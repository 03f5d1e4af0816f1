import type { Facts } from "../facts/facts";
import type { ParamValue } from "../params";
import { quantile } from "../signal/level";
import { processorOf } from "../song/create";
import type { Mic, Piece } from "../song/song";
import { bestThreshold, countGate } from "./decide";

/**
 * How far a gate closes, dB, the share of the measured tail for which it stays open, and hold and release in s where no
 * tail could be measured (snare: common practice; the others longer by their size). What of the tail is left goes with
 * the release; a snare's tail carries the wires and its ghost notes, so that it closes least.
 */
interface GateUse {
  readonly range: number;
  readonly share: number;
  readonly hold: number;
  readonly release: number;
}
const gateUse: Partial<Record<Piece, GateUse>> = {
  kick: { range: 36, share: 0.6, hold: 0.16, release: 0.07 },
  snare: { range: 18, share: 0.7, hold: 0.15, release: 0.08 },
  tom1: { range: 60, share: 0.62, hold: 0.22, release: 0.18 },
  tom2: { range: 60, share: 0.62, hold: 0.24, release: 0.2 },
  tom3: { range: 60, share: 0.62, hold: 0.26, release: 0.22 },
  floor: { range: 60, share: 0.65, hold: 0.3, release: 0.25 },
};

/**
 * The gate behind cancelling: it has only to take away what is left in the gaps. A snare's bleed is low enough without;
 * toms ring for a second and are seldom played, so that their gaps may be silent.
 */
const tomBehindCancel: GateUse = { range: 40, share: 0, hold: 1, release: 0.3 };
const behindCancel: Partial<Record<Piece, GateUse>> = {
  kick: { range: 30, share: 1.3, hold: 0.3, release: 0.15 },
  tom1: tomBehindCancel,
  tom2: tomBehindCancel,
  tom3: tomBehindCancel,
  floor: tomBehindCancel,
};
/** Release where the tail was measured, s. */
const measuredRelease = 0.05;
/** What a measured opening must gain to be better than the usual one, dB. */
const leastGain = 0.5;

/** A gate for a mic, and what is told of it. */
export interface GateChoice {
  readonly params: Readonly<Record<string, ParamValue>>;
  readonly hold: number;
  readonly range: number;
  /** The hold follows from the drum's measured tail. */
  readonly measured: boolean;
  /** Threshold before the trim, dBFS, and how often the bleed would open it. */
  readonly threshold: number;
  readonly falseOpens: number;
}

const rounded = (s: number): number => Math.round(200 * s) / 200;

/** How long a mic's gate stays open after a stroke when nothing else cleans it, s; `measured` false: usual values. */
function openingOf(facts: Facts, m: Mic, use: GateUse): { hold: number; release: number; measured: boolean } {
  const tails = facts.tails[m.id];
  const usual = { hold: use.hold, release: use.release, measured: false };
  if (!tails || tails.errorBefore - tails.wholeAfter < leastGain) return usual;
  const hold = rounded(use.share * tails.whole.hold);
  // A tail that seems over at once is none that was heard.
  if (hold < 0.03) return usual;
  return { hold, release: measuredRelease, measured: true };
}

function choice(
  facts: Facts,
  m: Mic,
  range: number,
  opening: { hold: number; release: number; measured: boolean },
): GateChoice {
  const levels = facts.levels[m.id]!;
  const threshold = Math.round(bestThreshold(levels) * 2) / 2;
  // The gate hears the mic after its trim.
  const trim = processorOf(m, "trim").params["gain"] as number;
  const { hold, release, measured } = opening;
  return {
    params: {
      opens: "hits",
      threshold: Math.max(-80, Math.min(0, threshold + trim)),
      range,
      hold,
      release,
      attack: 0.0003,
      lookahead: 0.0025,
    },
    hold,
    range,
    measured,
    threshold,
    falseOpens: countGate(levels, threshold).falseOpens,
  };
}

/** The gate of a shell's mic that is cleaned by nothing else; null: no strokes are known, or it is no shell's. */
export function plainGate(facts: Facts, m: Mic): GateChoice | null {
  const use = gateUse[m.piece];
  if (!use || !facts.levels[m.id]?.hits.length) return null;
  return choice(facts, m, use.range, openingOf(facts, m, use));
}

/** The gate behind cancelling; null: none is needed. */
export function gateBehindCancel(facts: Facts, m: Mic): GateChoice | null {
  const use = behindCancel[m.piece];
  if (!use || !facts.levels[m.id]?.hits.length) return null;
  const tail = use.share > 0 ? facts.tails[m.id]?.whole.hold : undefined;
  const hold = tail ? Math.max(0.1, rounded(use.share * tail)) : use.hold;
  const gate = choice(facts, m, use.range, { hold, release: use.release, measured: tail !== undefined });
  const { bleed } = facts.levels[m.id]!;
  if (bleed.length === 0) return gate;
  // A stroke that was not found opens it all the same when it is louder than nearly all bleed, which cancelling lowers.
  const trim = processorOf(m, "trim").params["gain"] as number;
  const threshold = Math.max(-80, Math.min(0, Math.round(2 * (quantile(bleed, 0.95) + trim)) / 2));
  return { ...gate, params: { ...gate.params, opens: "both", threshold } };
}
