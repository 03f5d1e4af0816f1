"use client";
import { useEffect, useRef } from "react";
import type { EngineState } from "../../playback/meterBoard";
import { atMostEvery, setStyle, setText } from "../shared/draw";
import { decibels } from "../shared/format";
import { playback } from "../shared/playback";

const toDb = (x: number): number => 20 * Math.log10(Math.max(1e-6, x));

interface FigureProps {
  readonly name: string;
  readonly title: string;
  readonly label: string;
  readonly unit?: string;
}
/** A figure that is written as it changes. */
function Figure({ name, title, label, unit }: FigureProps) {
  return (
    <span className="figure" title={title}>
      <label>{label}</label>{" "}
      <span data-meter={name} data-testid={name === "momentary" ? "loudness" : undefined} className="wide">
        –
      </span>
      {unit && ` ${unit}`}
    </span>
  );
}

/** Loudness, true peak and correlation of the kit, drawn without React as the page draws. */
export function KitMeters() {
  const root = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const part = (name: string) => root.current!.querySelector<HTMLElement>(`[data-meter="${name}"]`)!;
    const [momentary, short, peak, correlation, needle] = [
      "momentary",
      "short",
      "peak",
      "correlation",
      "needle",
    ].map(part);
    const figures = atMostEvery<EngineState>(100, (s) => {
      // Figures that change faster than ten times a second cannot be read.
      setText(momentary, s.playing ? decibels(s.momentary) : "–");
      setText(short, s.playing ? decibels(s.shortTerm) : "–");
      setText(peak, s.truePeakMost > 0 ? decibels(toDb(s.truePeakMost)) : "–");
      peak!.classList.toggle("over", s.truePeakMost > 1);
      setText(correlation, s.playing ? s.correlation.toFixed(1).replace("-", "−") : "–");
    });
    return playback.subscribe((s) => {
      setStyle(needle, "transform", `translateX(${((s.playing ? s.correlation : 0) * 14).toFixed(0)}px)`);
      figures(s);
    });
  }, []);
  return (
    <span ref={root} className="kit-meters">
      <Figure name="momentary" label="Now" title="Loudness of the last 0.4 s (EBU Tech 3341)" />
      <Figure name="short" label="3 s" unit="LUFS" title="Loudness of the last 3 s (EBU Tech 3341)" />
      <Figure
        name="peak"
        label="Peak"
        unit="dBTP"
        title="Largest true peak since play began (ITU-R BS.1770)"
      />
      <span
        className="figure"
        title="Correlation of left and right: 1 mono, 0 wide, below 0 it cancels in mono"
      >
        <label>L/R</label>{" "}
        <span data-meter="correlation" className="narrow">
          –
        </span>
        <span className="correlation" aria-hidden>
          <i data-meter="needle" />
        </span>
      </span>
    </span>
  );
}
