"use client";
import { useMemo, useState } from "react";
import { Table } from "react-bootstrap";
import { closeCalls } from "../../core/clean/closeCalls";
import { mainMic, type Mic } from "../../core/song/song";
import { decibels, secondsOf } from "../shared/format";
import { hear } from "../shared/hear";
import { useSong } from "../shared/songStore";

/** Heard around an event, s. */
const heardBefore = 0.2;
const heardAfter = 0.4;

/** Strokes and bleed that the threshold only just lets pass or only just stops, to be heard. Of a drum's main mic. */
export function CloseCalls({ mic, threshold, trim }: { mic: Mic; threshold: number; trim: number }) {
  const song = useSong((s) => s.song!);
  const events = useSong((s) => s.facts.events[mic.piece]);
  const [chosen, setChosen] = useState<number | null>(null);
  const calls = useMemo(
    () =>
      closeCalls(
        events?.events ?? [],
        song.hits.filter((h) => h.piece === mic.piece),
        threshold - trim,
      ),
    [events, song.hits, mic.piece, threshold, trim],
  );
  if (mainMic(song.mics, mic.piece)?.id !== mic.id || !events) return null;
  const choose = (time: number) => {
    setChosen(time);
    hear(time, heardBefore, heardAfter);
  };
  return (
    <section className="panel doubts" aria-label="Close calls">
      <header>
        <h3>Close calls</h3>
        <small className="quiet">near the threshold; click to hear</small>
      </header>
      {calls.length === 0 ? (
        <p className="hint">None: strokes and bleed lie far from it.</p>
      ) : (
        <div className="scroll-list" tabIndex={0}>
          <Table size="sm">
            <tbody>
              {calls.map((c) => (
                <tr
                  key={c.time}
                  className={chosen === c.time ? "chosen" : ""}
                  tabIndex={0}
                  onClick={() => choose(c.time)}
                  onKeyDown={(e) => e.key === "Enter" && choose(c.time)}
                >
                  <td className="number">{secondsOf(c.time)}</td>
                  <td>{c.kind}</td>
                  <td className="number">{decibels(c.levelDb + trim)}</td>
                  <td className={c.right ? "quiet" : "warn"}>{c.passes ? "passes" : "stopped"}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </div>
      )}
    </section>
  );
}
