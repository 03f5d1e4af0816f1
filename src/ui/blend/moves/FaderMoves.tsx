"use client";
import { Button } from "react-bootstrap";
import { nameOf, type Owner } from "../../../core/song/graph";
import { moveLimits, withPoint } from "../../../core/song/levelMoves";
import { number } from "../../../core/params";
import type { LevelMove } from "../../../core/song/song";
import { shortName, signed } from "../../shared/format";
import { TypedField } from "../../shared/ParamField";
import { useSong } from "../../shared/songStore";
import { setOwner } from "../routing";
import { useMoves } from "./moveStore";

const dbParam = number(
  "Beside the level",
  "dB",
  moveLimits.min,
  moveLimits.max,
  0,
  "What the point adds to the fader.",
);
const timeParam = number("Time", "s", 0, 86400, 0, "Where in the song the point lies.");
/** Rows of points that are listed; more are worked on the song line. */
const mostRows = 80;

const told = (moves: readonly LevelMove[]): string => {
  if (moves.length === 0) return "It stands still.";
  const all = moves.map((m) => m.db);
  return `${moves.length} points, ${signed(Math.min(...all), 1)} to ${signed(Math.max(...all), 1)} dB beside its level.`;
};

/** Stores the moves of a fader as one step. */
export const setMoves = (owner: Owner, levelMoves: readonly LevelMove[], done = true): void => {
  const { change, preview } = useSong.getState();
  const operation = setOwner(owner, { levelMoves });
  if (done) change(`Fader of ${shortName(nameOf(owner))} over the song`, operation);
  else preview(operation);
};

interface PointProps {
  readonly owner: Owner;
  readonly moves: readonly LevelMove[];
  readonly index: number;
}
/** One point, typed. */
function PointRow({ owner, moves, index }: PointProps) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const point = moves[index]!;
  const set = (values: Partial<LevelMove>) =>
    setMoves(owner, withPoint(moves, index, { ...point, ...values }));
  return (
    <tr>
      <td>
        <TypedField
          spec={timeParam}
          value={point.time}
          sampleRate={sampleRate}
          label={`Time of point ${index + 1}, s`}
          onChange={(time) => set({ time })}
        />
      </td>
      <td>
        <TypedField
          spec={dbParam}
          value={point.db}
          sampleRate={sampleRate}
          label={`Level of point ${index + 1}, dB`}
          onChange={(db) => set({ db })}
        />
      </td>
      <td>
        <Button
          size="sm"
          variant="link"
          aria-label={`Take point ${index + 1} out`}
          onClick={() => setMoves(owner, moves.toSpliced(index, 1))}
        >
          out
        </Button>
      </td>
    </tr>
  );
}

/** The points of a fader's way as a list. */
function PointList({ owner, moves }: Omit<PointProps, "index">) {
  if (moves.length === 0) return null;
  return (
    <details>
      <summary>Points as a list</summary>
      <table className="points" aria-label="Points of the fader">
        <tbody>
          {moves.slice(0, mostRows).map((m, i) => (
            <PointRow key={`${m.time} ${m.db}`} owner={owner} moves={moves} index={i} />
          ))}
        </tbody>
      </table>
      {moves.length > mostRows && (
        <p className="hint">The other {moves.length - mostRows} are on the song line.</p>
      )}
    </details>
  );
}

/** How the fader of a mic or bus is moved over the song: drawn, ridden while it plays, or typed. */
export function FaderMoves({ owner }: { owner: Owner }) {
  const { drawing, writing } = useMoves();
  const moves = owner.levelMoves ?? [];
  return (
    <section className="panel" aria-label={`Fader of ${shortName(nameOf(owner))} over the song`}>
      <header>
        <h3>Fader over the song</h3>
      </header>
      <p className="hint" data-testid="fader-moves">
        {told(moves)}
      </p>
      <div className="buttons">
        <Button
          size="sm"
          variant={drawing ? "primary" : "outline-primary"}
          aria-pressed={drawing}
          title="Points on the song line: press to put one, drag it, arrow keys move it, Delete takes it out"
          onClick={() => useMoves.setState({ drawing: !drawing })}
        >
          Draw on the song line
        </Button>
        <Button
          size="sm"
          variant={writing ? "primary" : "outline-primary"}
          aria-pressed={writing}
          title="A fader that is moved while the song plays is written until it stops; behind that it goes as before"
          onClick={() => useMoves.setState({ writing: !writing })}
        >
          Write while it plays
        </Button>
        {moves.length > 0 && (
          <Button size="sm" variant="outline-secondary" onClick={() => setMoves(owner, [])}>
            Take the moves out
          </Button>
        )}
      </div>
      <PointList owner={owner} moves={moves} />
    </section>
  );
}
