"use client";
import { useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { MaskingJudged } from "../../../contract";
import { keptOver, turnedRound } from "../../../core/masking/masking";
import { changesOf, mirrored, type MirroredMove } from "../../../core/masking/moves";
import { number } from "../../../core/params";
import { nameOf, type Owner } from "../../../core/song/graph";
import { ParamField } from "../../shared/ParamField";
import { percent, shortName, withUnit } from "../../shared/format";
import { useSong } from "../../shared/songStore";

export const moveSpecs = {
  frequency: number("Frequency", "Hz", 30, 15000, 100, "Where one is cut and the other lifted.", "log"),
  q: number("Width", "Q", 0.4, 6, 1.4, "Higher is narrower.", "log"),
  cut: number("Cut", "dB", -12, 0, -3, "In what covers."),
  lift: number("Lift", "dB", 0, 9, 1.5, "In what is covered."),
} as const;
/** A lift that goes along is half of the cut. */
const share = 0.5;

interface Props {
  readonly of: Owner;
  readonly by: Owner;
  readonly value: MaskingJudged;
  readonly move: MirroredMove;
  readonly setMove: (move: MirroredMove) => void;
}

/** What both keep, now and after the move. */
function useKept(value: MaskingJudged, move: MirroredMove, sampleRate: number) {
  const before = useMemo(
    () => [keptOver(value.heard).whole, keptOver(turnedRound(value.heard)).whole] as const,
    [value],
  );
  const after = useMemo(() => {
    const change = changesOf(move, sampleRate);
    const turned = { of: (b: number) => change.by(b), by: (b: number) => change.of(b) };
    return [keptOver(value.heard, change).whole, keptOver(turnedRound(value.heard), turned).whole] as const;
  }, [value, move, sampleRate]);
  return { before, after };
}

function proposedTold(move: MaskingJudged["move"], own: string, other: string): string {
  if (move === null) return "Nothing is proposed: no cut would bring back enough.";
  const { frequency, cut, lift } = move;
  return `Proposed: ${withUnit(frequency, "Hz")}, ${cut} dB in ${other}, +${lift} dB in ${own}.`.replace(
    /-/g,
    "−",
  );
}

/** A cut in what covers and a lift in what is covered at one place, judged by what is then kept. */
export function MirroredMoves({ of, by, value, move, setMove }: Props) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const [linked, setLinked] = useState(true);
  const [own, other] = [shortName(nameOf(of)), shortName(nameOf(by))];
  const { before, after } = useKept(value, move, sampleRate);
  const set = (name: keyof MirroredMove, v: number) => {
    const follows = linked && (name === "cut" || name === "lift");
    setMove({
      ...move,
      [name]: v,
      ...(follows && name === "cut" ? { lift: Math.min(moveSpecs.lift.max, -share * v) } : {}),
      ...(follows && name === "lift" ? { cut: Math.max(moveSpecs.cut.min, -v / share) } : {}),
    });
  };
  const nothing = move.cut === 0 && move.lift === 0;
  const take = () =>
    useSong
      .getState()
      .change(`Room for ${own} in ${other} at ${withUnit(move.frequency, "Hz")}`, mirrored(of, by, move));
  return (
    <section className="panel" aria-label="Mirrored moves">
      <h3>Mirrored moves</h3>
      <p className="hint">{proposedTold(value.move, own, other)}</p>
      {(Object.keys(moveSpecs) as (keyof MirroredMove)[]).map((name) => (
        <ParamField
          key={name}
          spec={moveSpecs[name]}
          value={move[name]}
          sampleRate={sampleRate}
          onChange={(v) => set(name, Number(v))}
        />
      ))}
      <Form.Check
        type="switch"
        id="linked-move"
        label="The lift goes along, half as large"
        checked={linked}
        onChange={(e) => setLinked(e.target.checked)}
      />
      <p className="figure" data-testid="masking-after">
        {own}: {percent(before[0])} → {percent(after[0])}; {other}: {percent(before[1])} → {percent(after[1])}
      </p>
      <Button
        size="sm"
        disabled={nothing}
        onClick={take}
        title="An EQ at the end of both chains, as one step"
      >
        Take the move
      </Button>
    </section>
  );
}
