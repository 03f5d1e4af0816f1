"use client";
import { Button } from "react-bootstrap";
import type { AnyValues } from "../../core/params";
import type { ProcessorState } from "../../core/song/song";
import type { Owner } from "../../core/song/graph";
import { useParams } from "../shared/ProcessorPanel";

/** Values while the attack is sought: so much that every change of it is heard. */
const overdriven = { ratio: 10, attack: 0.0002, release: 0.1 };
/** Below its threshold of now by so much, dB. */
const deeper = 12;

interface GuideProps {
  readonly owner: Owner;
  readonly state: ProcessorState;
  /** Seeks the threshold that gives the strokes a reduction, dB, with other values set along with it. */
  readonly fit: (reduction: number, values: AnyValues) => void;
  readonly fitting: boolean;
  /** What is usual in the end, dB. */
  readonly usual: number;
  /** Values of before it began; null: it is not under way. */
  readonly before: AnyValues | null;
  readonly setBefore: (before: AnyValues | null) => void;
}

/** The way to an attack by ear, in three steps: too much of everything, open until the stick is through, back off. */
export function AttackGuide({ owner, state, fit, fitting, usual, before, setBefore }: GuideProps) {
  const set = useParams(owner, state);
  if (before === null)
    return (
      <Button
        size="sm"
        variant="outline-primary"
        title="Three steps: too much of everything, open the attack until the stick is through, back off"
        onClick={() => {
          setBefore(state.params);
          const threshold = Math.max(-60, (state.params["threshold"] as number) - deeper);
          set({ ...overdriven, threshold }, true, true);
        }}
      >
        Find the attack by ear
      </Button>
    );
  const { ratio, release } = before;
  return (
    <div className="guide" role="group" aria-label="Finding the attack">
      <p>
        <b>1</b> It is overdriven now: play the strokes, they are flat. <b>2</b> Open the attack slowly until
        the stick comes through whole and stop there. <b>3</b> Back off: ratio and release as they were,{" "}
        {usual} dB of reduction, with this attack.
      </p>
      <Button
        size="sm"
        disabled={fitting}
        onClick={() => {
          fit(usual, { ratio: ratio!, release: release! });
          setBefore(null);
        }}
      >
        Back off
      </Button>
      <Button
        size="sm"
        variant="link"
        onClick={() => {
          set({ ...before }, true);
          setBefore(null);
        }}
      >
        Leave it as it was
      </Button>
    </div>
  );
}
