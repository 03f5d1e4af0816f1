import { pieceNames } from "../../../core/song/pieceNames";
import type { Edit, Piece } from "../../../core/song/song";
import type { Tightness } from "../../../core/tighten/tightness";

const ms = (seconds: number): string => `${(1000 * seconds).toFixed(1)} ms`;
const lateness = (seconds: number): string =>
  Math.abs(seconds) < 0.0005 ? "on the grid" : `${ms(Math.abs(seconds))} ${seconds > 0 ? "late" : "early"}`;

interface Props {
  readonly tightness: Tightness;
  readonly edits: readonly Edit[];
  /** The chosen drum and how late it plays as a rule, s. */
  readonly habit: { readonly piece: Piece; readonly lean: number } | null;
}

/** What the moves come to. */
export function FiguresPanel({ tightness, edits, habit }: Props) {
  const worst = edits.reduce((most, e) => Math.max(most, e.jumpDb ?? -Infinity), -Infinity);
  return (
    <section className="panel figures" aria-label="Figures">
      <dl>
        <dt>Spread as played</dt>
        <dd>{ms(tightness.spreadBefore)}</dd>
        <dt>Spread now</dt>
        <dd>{ms(tightness.spreadAfter)}</dd>
        <dt>Cuts, all mics together</dt>
        <dd>{tightness.cuts}</dd>
        <dt>Largest move</dt>
        <dd>{ms(tightness.largestMove)}</dd>
        {Number.isFinite(worst) && (
          <>
            <dt title="Of the spectrum, beyond what the drums do there themselves">Worst joint</dt>
            <dd>{worst <= 0 ? "smooth" : `+${worst.toFixed(1)} dB`}</dd>
          </>
        )}
        {habit && (
          <>
            <dt>Habit of the {pieceNames[habit.piece].toLowerCase()}</dt>
            <dd>{lateness(habit.lean)}</dd>
          </>
        )}
      </dl>
    </section>
  );
}
