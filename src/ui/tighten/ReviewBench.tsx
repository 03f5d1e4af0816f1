"use client";
import { useMemo, useState } from "react";
import { Button, Table } from "react-bootstrap";
import { barAt } from "../../core/grid/bars";
import { reviewMoves, type Reviewed } from "../../core/tighten/review";
import type { Song } from "../../core/song/song";
import { useCompare } from "../compare/compareStore";
import { pieceNames } from "../../core/song/pieceNames";
import { signed } from "../shared/format";
import { playback, usePlayback } from "../shared/playback";
import { Nothing } from "../shared/Nothing";
import { useSong } from "../shared/songStore";
import { changePlaying } from "./playingChange";

/** Stretch around a move that is heard, s before and after. */
const heardBefore = 0.6;
const heardAfter = 0.6;

/** Plays the stretch around a move, as tightened or as played. */
function hear(song: Song, { playedAt }: Reviewed, asPlayed: boolean): void {
  useCompare.setState({ scope: "step", side: asPlayed ? "without" : "with", blind: null });
  const frame = (t: number) => Math.max(0, Math.round(t * song.sampleRate));
  playback.playStrokes([{ from: frame(playedAt - heardBefore), to: frame(playedAt + heardAfter) }]);
}

/** The moves, the riskiest first: to hear before and after, to take back one by one; regions to lock. */
export function ReviewBench() {
  const song = useSong((s) => s.song!);
  const [chosen, setChosen] = useState(-1);
  const loop = usePlayback((s) => s.loop);
  const looping = usePlayback((s) => s.looping);
  const { hits, tempo, tighten, sections, edits, sampleRate } = song;
  const list = useMemo(
    () => reviewMoves(hits, tempo, tighten, sections, edits, sampleRate),
    [hits, tempo, tighten, sections, edits, sampleRate],
  );
  const { left, locked } = tighten;
  const takeBack = (r: Reviewed) =>
    changePlaying(`Leave the stroke at ${r.time.toFixed(2)} s`, {
      tighten: { ...tighten, left: [...left, r.time] },
    });
  const keys = (event: React.KeyboardEvent) => {
    const at = Math.max(0, chosen);
    const go = (i: number) => {
      const row = list[i];
      if (!row) return;
      setChosen(i);
      hear(song, row, false);
    };
    const acts: Record<string, () => void> = {
      ArrowDown: () => go(chosen < 0 ? 0 : at + 1),
      ArrowUp: () => go(at - 1),
      Delete: () => list[at] && takeBack(list[at]),
      a: () => list[at] && hear(song, list[at], true),
    };
    const does = acts[event.key];
    if (!does) return;
    event.preventDefault();
    event.stopPropagation();
    does();
  };
  const lockLoop = () => {
    if (!loop) return;
    const region = { from: loop.from / sampleRate, to: loop.to / sampleRate };
    changePlaying(`Leave ${region.from.toFixed(1)} to ${region.to.toFixed(1)} s as played`, { tighten: { ...tighten, locked: [...locked, region] } }); // prettier-ignore
  };
  const bar = (t: number) => (tempo ? barAt(tempo, t + 0.02) : t.toFixed(2));
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
          <div
            className="scroll-list tall"
            tabIndex={0}
            onKeyDown={keys}
            aria-label="Moves, worst first; arrows pass and play them, A plays one as it was, Delete leaves one as played"
          >
            <Table size="sm" className="mic-table">
              <thead>
                <tr>
                  <th>Bar</th>
                  <th>Strokes</th>
                  <th className="number">As played</th>
                  <th className="number">Moved</th>
                  <th className="number">Joint</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {list.slice(0, 300).map((r, i) => (
                  <tr
                    key={r.time}
                    className={i === chosen ? "chosen" : ""}
                    onClick={() => {
                      setChosen(i);
                      hear(song, r, false);
                    }}
                  >
                    <td>{bar(r.playedAt)}</td>
                    <td className="name">{r.pieces.map((p) => pieceNames[p]).join(", ") || "between"}</td>
                    <td className="number">{r.time.toFixed(3)} s</td>
                    <td className="number">{signed(1000 * r.shift, 1)} ms</td>
                    <td
                      className="number"
                      title="Jump of the spectrum over the joint beyond what the drums do there themselves"
                    >
                      {r.jumpDb === null ? "–" : r.jumpDb <= 0 ? "smooth" : `+${r.jumpDb.toFixed(1)} dB`}
                    </td>
                    <td className="acts">
                      {act("Before", () => hear(song, r, true))}
                      {act("After", () => hear(song, r, false))}
                      {act("Leave as played", () => takeBack(r))}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          </div>
        )}
        <p className="hint">↑ ↓ pass and hear · A hears it as played · Delete leaves it as played</p>
      </div>
      <aside className="settings">
        <section className="panel">
          <header>
            <h3>Left as played</h3>
          </header>
          <p className="hint">
            {left.length} strokes and {locked.length} regions are not moved.
          </p>
          <Button size="sm" variant="outline-secondary" disabled={!loop || !looping} onClick={lockLoop}>
            Leave the loop as played
          </Button>
          {locked.map((r) => (
            <div className="locked-region" key={`${r.from}`}>
              bar {bar(r.from)} to {bar(r.to)}{" "}
              {act("Move again", () =>
                changePlaying("Move a region again", {
                  tighten: { ...tighten, locked: locked.filter((x) => x !== r) },
                }),
              )}
            </div>
          ))}
          {left.length > 0 && (
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => changePlaying("Move all strokes again", { tighten: { ...tighten, left: [] } })}
            >
              Move the {left.length} strokes again
            </Button>
          )}
        </section>
      </aside>
    </div>
  );
}

/** A small action within a row. */
const act = (label: string, does: () => void) => (
  <Button
    size="sm"
    variant="link"
    onClick={(event) => {
      event.stopPropagation();
      does();
    }}
  >
    {label}
  </Button>
);
