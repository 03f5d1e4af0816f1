"use client";
import { useEffect, useRef, type ReactNode } from "react";
import { Button } from "react-bootstrap";
import { PauseFill, PlayFill, Repeat, SkipStartFill } from "react-bootstrap-icons";
import { barAt } from "../../core/tighten/bars";
import { clock, decibels } from "../shared/format";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { toggleLoop } from "./actions";

/** Play, loop, where the playhead is, and how loud the kit is. */
export function Transport({ zoom }: { zoom: ReactNode }) {
  const playing = usePlayback((s) => s.playing);
  const looping = usePlayback((s) => s.looping);
  const trouble = usePlayback((s) => s.trouble);
  const song = useSong((s) => s.song!);
  const time = useRef<HTMLSpanElement>(null);
  const bar = useRef<HTMLSpanElement>(null);
  const loudness = useRef<HTMLSpanElement>(null);
  const peak = useRef<HTMLSpanElement>(null);
  const highest = useRef(0);
  const { sampleRate, tempo } = song;
  useEffect(() => {
    const place = (frame: number) => {
      const seconds = frame / sampleRate;
      if (time.current) time.current.textContent = clock(seconds);
      if (bar.current) bar.current.textContent = tempo ? barAt(tempo, seconds) : "–";
    };
    place(playback.position);
    const follow = playback.subscribe((s) => {
      place(s.position);
      highest.current = s.playing ? Math.max(s.kitPeak, highest.current * 0.985) : 0;
      if (loudness.current) loudness.current.textContent = s.playing ? decibels(s.momentary) : "–";
      if (peak.current)
        peak.current.textContent = s.playing
          ? decibels(20 * Math.log10(Math.max(1e-6, highest.current)))
          : "–";
    });
    const moves = playback.onMove(place);
    return () => {
      follow();
      moves();
    };
  }, [sampleRate, tempo]);
  return (
    <div className="transport" role="group" aria-label="Transport">
      <Button
        size="sm"
        variant="outline-secondary"
        aria-label="To the start"
        title="To the start (Home)"
        onClick={() => playback.seek(0)}
      >
        <SkipStartFill aria-hidden />
      </Button>
      <Button
        size="sm"
        className="play"
        aria-label={playing ? "Stop" : "Play"}
        title="Play or stop (Space)"
        onClick={() => playback.toggle()}
      >
        {playing ? <PauseFill aria-hidden /> : <PlayFill aria-hidden />} {playing ? "Stop" : "Play"}
      </Button>
      <Button
        size="sm"
        variant={looping ? "primary" : "outline-secondary"}
        aria-pressed={looping}
        title="Loop (L)"
        onClick={toggleLoop}
      >
        <Repeat aria-hidden /> Loop
      </Button>
      <span className="figure">
        <label>Bar</label>{" "}
        <span ref={bar} className="wide">
          –
        </span>
      </span>
      <span className="figure">
        <label>Time</label>{" "}
        <span ref={time} className="wide" data-testid="time">
          0:00.0
        </span>{" "}
        of {clock(song.frames / sampleRate)}
      </span>
      {tempo && (
        <span className="figure">
          <label>Tempo</label> {tempo.bpm.toFixed(2)} bpm
        </span>
      )}
      <span className="figure">
        <label>Kit</label>{" "}
        <span ref={loudness} className="wide" data-testid="loudness">
          –
        </span>{" "}
        LUFS, peak{" "}
        <span ref={peak} className="wide">
          –
        </span>{" "}
        dBFS
      </span>
      {trouble && (
        <span className="trouble" role="status">
          {trouble}
        </span>
      )}
      <span className="fill" />
      {zoom}
    </div>
  );
}
