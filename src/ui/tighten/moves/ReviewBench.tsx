"use client";
import { useMemo } from "react";
import { barAt } from "../../../core/grid/bars";
import { reviewMoves, type Reviewed } from "../../../core/tighten/review";
import { Nothing } from "../../shared/Nothing";
import { useSong } from "../../shared/songStore";
import { changePlaying } from "../playingChange";
import { LeftPanel } from "./LeftPanel";
import { ReviewTable } from "./ReviewTable";

/** The moves, the riskiest first: to hear before and after, to take back one by one; regions to lock. */
export function ReviewBench() {
  const song = useSong((s) => s.song!);
  const { hits, tempo, tighten, sections, edits, sampleRate } = song;
  const list = useMemo(
    () => reviewMoves(hits, tempo, tighten, sections, edits, sampleRate),
    [hits, tempo, tighten, sections, edits, sampleRate],
  );
  const takeBack = (r: Reviewed) =>
    changePlaying(`Leave the stroke at ${r.time.toFixed(2)} s`, {
      tighten: { ...tighten, left: [...tighten.left, r.time] },
    });
  const barOf = (t: number) => (tempo ? barAt(tempo, t + 0.02) : t.toFixed(2));
  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          {list.length} moves <small>worst first: far moves, and joints whose spectrum jumps</small>
        </h2>
        {list.length === 0 ? (
          <Nothing>
            Nothing is moved. Choose a strength under Early and late; every move is listed here.
          </Nothing>
        ) : (
          <ReviewTable song={song} list={list} barOf={barOf} takeBack={takeBack} />
        )}
        <p className="hint">↑ ↓ pass and hear · A hears it as played · Delete leaves it as played</p>
      </div>
      <aside className="settings">
        <LeftPanel song={song} barOf={barOf} />
      </aside>
    </div>
  );
}
