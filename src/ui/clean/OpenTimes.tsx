"use client";
import { useMemo } from "react";
import { openRegions } from "../../core/clean/openRegions";
import { cutsOfMic, cutTime } from "../../core/engine/cuts";
import type { Mic, ProcessorState } from "../../core/song/song";
import { useSong } from "../shared/songStore";

/** What a gate that is opened by strokes leaves of the song, and what it silences. */
export function OpenTimes({ mic, gate }: { mic: Mic; gate: ProcessorState }) {
  const song = useSong((s) => s.song!);
  const [hold, release] = [gate.params["hold"] as number, gate.params["release"] as number];
  const seconds = song.frames / song.sampleRate;
  const regions = useMemo(() => {
    const cuts = cutsOfMic(song, mic);
    const times = song.hits
      .filter((h) => h.piece === mic.piece)
      .map((h) => cutTime(cuts, h.time, song.sampleRate));
    return openRegions(times, hold, release, seconds);
  }, [song, mic, hold, release, seconds]);
  if (!gate.on || gate.params["opens"] === "level" || regions.length === 0) return null;
  const open = regions.reduce((sum, r) => sum + r.to - r.from, 0);
  return (
    <div className="open-times">
      <svg
        viewBox={`0 0 ${seconds} 1`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`The strokes keep ${mic.file} open in ${regions.length} regions`}
      >
        <rect className="shut" width={seconds} height={1} />
        {regions.map((r) => (
          <rect key={r.from} className="open" x={r.from} width={r.to - r.from} height={1} />
        ))}
      </svg>
      <small className="quiet">
        open in {regions.length} regions, {Math.round((100 * open) / seconds)} % of the song; what lies
        between goes down by {(gate.params["range"] as number).toFixed(0)} dB
      </small>
    </div>
  );
}
