"use client";
import { useMemo } from "react";
import { Button } from "react-bootstrap";
import type { NumberParam } from "../../core/params";
import type { PictureOf } from "../../core/processor";
import { processorType } from "../../core/processors";
import { envelopeTimesMs } from "../../core/shape/hitReductions";
import type { Mic, ProcessorState } from "../../core/song/song";
import { shortName, signed } from "../shared/format";
import { useEvidence } from "../shared/evidenceClient";
import { Legend, Plot, type Mark, type Series } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { medianOr } from "../shared/medianOr";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../shared/useMic";

/** The level of a processor as a line one drags, in steps of half a dB. */
const levelGrip = (
  axis: "x" | "y",
  spec: NumberParam,
  value: number,
  drag: (value: number, done: boolean) => void,
): Mark => ({
  id: "level",
  axis,
  value,
  label: `${spec.label.toLowerCase()} ${value.toFixed(1).replace("-", "−")} dBFS`,
  drag: (v, done) => drag(Math.min(spec.max, Math.max(spec.min, Math.round(v * 2) / 2)), done),
});

function histogram(values: readonly number[], step: number, from: number, count: number): [number, number][] {
  return Array.from({ length: count }, (_, i) => {
    const middle = from + i * step;
    return [middle, values.filter((v) => v >= middle - step / 2 && v < middle + step / 2).length];
  });
}

/** From this much on a stroke counts as touched, dB: less is not heard. */
const touchedFrom = 0.1;

/** "6 of 148 strokes, 2.1 dB at most". */
function touched(reductions: readonly number[]): string {
  const count = reductions.filter((r) => r >= touchedFrom).length;
  if (count === 0) return `none of ${reductions.length} strokes touched`;
  return `${count} of ${reductions.length} strokes touched, ${Math.max(...reductions).toFixed(1)} dB at most`;
}

/** "the ring dies in 0.31 s rather than 0.82 s". */
const rings = (before: number, after: number | null): string =>
  after === null
    ? `the ring lasted ${before.toFixed(2)} s and is gone among the rest`
    : `the ring dies in ${after.toFixed(2)} s rather than ${before.toFixed(2)} s`;

interface StrokePicturesProps {
  mic: Mic;
  state: ProcessorState;
  picture: Extract<PictureOf, { over: "strokes" }>;
}

/** What a processor does to every stroke, the average stroke before and after, what the bleed does. */
export function StrokePictures({ mic, state, picture }: StrokePicturesProps) {
  const song = useSong((s) => s.song!);
  const { hits, sampleRate } = song;
  const set = useParams(mic, state);
  const reductions = picture.shows === "reductions";
  const type = processorType(state.type);
  const color = mic.piece.replace(/\d/, "");
  const strokes = useMemo(() => strokesIn(hits, mic, sampleRate), [hits, mic, sampleRate]);
  const chain = mic.chain.map((p) => (p.id === state.id ? { ...p, on: true } : p));
  const upTo = mic.chain.findIndex((p) => p.id === state.id) + 1;
  const { value, busy, error } = useEvidence(
    "effect",
    JSON.stringify([mic.audio, hits.length, mic.piece, chain.slice(0, upTo)]),
    { mic: { audio: mic.audio!, start: mic.start }, chain, processor: state.id, strokes: strokes.mains, hits: strokes.all, sampleRate, ring: picture.ring ? (state.params[picture.ring] as number) : null },
  ); // prettier-ignore
  const perStroke = useMemo((): Series[] => {
    if (!value) return [];
    if (reductions)
      return [
        { label: "gain reduction of every stroke", color, fill: true, width: 2.25, points: histogram(value.reductionDb, 0.5, 0, 41) },
      ]; // prettier-ignore
    return [
      {
        label: "peaks before",
        color: "ink-soft",
        dashed: true,
        points: histogram(value.peakBefore, 1, -36, 43),
      },
      {
        label: "peaks after",
        color,
        fill: true,
        width: 2.25,
        points: histogram(value.peakAfter, 1, -36, 43),
      },
    ];
  }, [value, reductions, color]);
  const envelope = useMemo((): Series[] => {
    if (!value) return [];
    return [
      { label: "before", color: "ink-soft", dashed: true, points: envelopeTimesMs.map((t, i) => [t, value.envelopeBefore[i]!]) },
      { label: "after", color, width: 2.5, points: envelopeTimesMs.map((t, i) => [t, value.envelopeAfter[i]!]) },
    ]; // prettier-ignore
  }, [value, color]);
  const tallest = Math.max(4, ...perStroke.flatMap((s) => s.points.map((p) => p[1])));
  // Stroke by stroke: the middle of all peaks may stand still while the loudest are cut.
  const changes = value ? value.peakAfter.map((after, i) => after - value.peakBefore[i]!) : [];
  const peaks = medianOr(changes, 0);
  const most = changes.reduce((far, c) => (Math.abs(c) > Math.abs(far) ? c : far), 0);
  const louder = value ? value.loudnessAfter.whole - value.loudnessBefore.whole : 0;
  const small = value ? value.loudnessAfter.small - value.loudnessBefore.small : 0;
  const bleed = value ? value.betweenAfter - value.betweenBefore : 0;
  const said = !value
    ? [busy ? "measuring …" : ""]
    : [
        ...(reductions ? [`median ${medianOr(value.reductionDb, 0).toFixed(1)} dB of reduction`] : []),
        ...(type.meters && !reductions ? [touched(value.reductionDb)] : []),
        `peaks ${signed(peaks, 1)} dB in the middle, ${signed(most, 1)} at most; loudness ${signed(louder, 1)} dB; bleed between strokes ${signed(bleed, 1)} dB`,
        ...(picture.ring && value.ringBefore !== null ? [rings(value.ringBefore, value.ringAfter)] : []),
        ...(picture.small ? [`on a small speaker ${signed(small, 1)} dB`] : []),
      ];
  /** The gain behind it that makes the strokes as loud as they come in; null: they are, or there is none. */
  const matched = (): number | null => {
    const spec = type.output === null ? null : (type.params[type.output] as NumberParam);
    if (!spec || !Number.isFinite(louder) || Math.abs(louder) < 0.05) return null;
    const gain = (state.params[type.output!] as number) - louder;
    return Math.min(spec.max, Math.max(spec.min, Math.round(gain * 10) / 10));
  };
  const match = value && !busy ? matched() : null;
  const level = picture.level;
  const grips: Mark[] = level
    ? [
        levelGrip(
          reductions ? "y" : "x",
          type.params[level] as NumberParam,
          state.params[level] as number,
          (v, done) => set({ [level]: v }, done),
        ),
      ]
    : [];
  return (
    <>
      <h2>
        {shortName(mic.file)}: {type.label} <small data-testid="effect">{said.join("; ")}</small>
      </h2>
      {bleed - Math.min(0, peaks) > 6 && (
        <p className="warn">
          The bleed comes up {(bleed - peaks).toFixed(1)} dB against the strokes: clean more, or compress
          less.
        </p>
      )}
      {error && <p className="trouble">The picture could not be made: {error}.</p>}
      <div className="picture-head">
        <Legend series={perStroke} note={`${strokes.mains.length} main strokes`} />
        {type.output !== null && (
          <Button
            size="sm"
            variant="outline-primary"
            disabled={match === null}
            title="Sets the gain behind it so that the strokes are as loud as they come in"
            onClick={() => set({ [type.output!]: match! }, true)}
          >
            Match loudness
          </Button>
        )}
      </div>
      <div className="half">
        <Plot
          caption={
            reductions
              ? `Gain reduction per stroke of ${mic.file}`
              : `Peaks of the strokes of ${mic.file} before and after`
          }
          series={perStroke}
          x={
            reductions
              ? { label: "Gain reduction, dB", min: 0, max: 20 }
              : { label: "Peak level of the stroke, dBFS", min: -36, max: 6 }
          }
          y={{ label: "Strokes", min: 0, max: Math.ceil(tallest * 1.1) }}
          marks={
            reductions
              ? (picture.usual ?? []).map((w, i) => ({
                  id: `w${w}`,
                  axis: "x" as const,
                  value: w,
                  label: i === 0 ? "usual from" : "to",
                  color: "ink-soft",
                  dashed: true,
                }))
              : [
                  {
                    id: "fullScale",
                    axis: "x" as const,
                    value: 0,
                    label: "full scale",
                    color: "ink-soft",
                    dashed: true,
                  },
                  ...grips,
                ]
          }
        />
      </div>
      <Legend series={envelope} />
      <div className="half">
        <Plot
          caption={`Average stroke of ${mic.file} before and after`}
          series={envelope}
          x={{ label: "Time from the stroke, ms", min: -10, max: 200 }}
          y={{ label: "Level, dBFS", min: -72, max: 6 }}
          marks={reductions ? grips : []}
        />
      </div>
    </>
  );
}
