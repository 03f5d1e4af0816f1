"use client";
import type { Piece } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { useSong } from "../shared/songStore";
import { plannable, usualPlace } from "./layout";
import { changePlan } from "./moving";

/** Puts a piece without a mic onto the plan, or takes it off again. */
export function PlanPieces() {
  const plan = useSong((s) => s.song!.plan);
  const mics = useSong((s) => s.song!.mics);
  const bare = plannable.filter((p) => !mics.some((m) => m.piece === p));
  if (bare.length === 0) return null;
  const choose = (piece: Piece): void => {
    const { [piece]: there, ...others } = plan.places;
    const places = there ? others : { ...others, [piece]: usualPlace(piece, plan.mirrored) };
    changePlan(`${there ? "Take" : "Put"} ${pieceNames[piece]} ${there ? "off" : "onto"} the plan`, {
      ...plan,
      places,
    });
  };
  return (
    <select
      className="plan-pieces"
      aria-label="Put a piece onto the plan"
      value=""
      onChange={(event) => {
        event.target.blur(); // the keys are the page's again
        choose(event.target.value as Piece);
      }}
    >
      <option value="">pieces …</option>
      {bare.map((p) => (
        <option key={p} value={p}>
          {plan.places[p] ? `take ${pieceNames[p]} off` : `put ${pieceNames[p]} here`}
        </option>
      ))}
    </select>
  );
}
