"use client";
import { useMemo } from "react";
import type { HitSpectra } from "../../core/clean/spectra";
import { bleedEdges } from "../../core/signal/bleedBands";
import type { NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import { dynamicBands, type DynamicBand } from "../../core/processors/dynamicEq/dynamicEq";
import { dynamicResponseDb, movedResponseDb } from "../../core/processors/dynamicEq/response";
import { curveFrequencies } from "../../core/measure/spectrum";
import { processorOf } from "../../core/song/create";
import type { Mic, ProcessorState } from "../../core/song/song";
import { recordedInput } from "../shared/chainInput";
import { useEvidence } from "../shared/evidenceClient";
import { frequencyAxis, Legend, Plot, type Handle, type Moving, type Series } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { atMostEvery } from "../shared/draw";
import { playback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { bandName } from "./DynamicEqPanel";
import { within } from "./LevelPicture";

/** Range of the picture, dB. */
const lowest = -72;
const highest = 12;

/** Middles of the bands in which bleed is cancelled, Hz. */
const cancelBands = bleedEdges.slice(1).map((hz, b) => Math.sqrt(Math.max(30, bleedEdges[b]!) * hz));

/** The response of the dynamic EQ as it moves, or of Cancel where only that is on. */
function responseWhilePlaying(eq: ProcessorState, cancel: ProcessorState, rate: number): Moving | undefined {
  const shown = eq.on ? eq : cancel.on ? cancel : null;
  if (!shown) return undefined;
  return (draw) => {
    const stop = playback.watchBands(shown.id);
    const leave = playback.subscribe(
      atMostEvery(40, ({ playing, bands }) => {
        if (!playing || bands.every(Number.isNaN)) return draw(null);
        draw(
          shown === eq
            ? Array.from(curveFrequencies).map(
                (f) => [f, movedResponseDb(eq.params, bands, f, rate)] as const,
              )
            : cancelBands.map((f, b) => [f, bands[b]!] as const),
        );
      }),
    );
    return () => {
      leave();
      stop();
      draw(null);
    };
  };
}

interface Props {
  readonly mic: Mic;
  readonly dynamicEq: ProcessorState;
  /** The band that is set in the panel. */
  readonly band: DynamicBand;
  readonly onBand: (band: DynamicBand) => void;
}

/** The EQ's curves, and the spectra that they lie over. */
function tonesOf(
  spectra: HitSpectra | null,
  dynamicEq: ProcessorState,
  color: string,
  sampleRate: number,
): Series[] {
  const f = Array.from(curveFrequencies);
  const response = (share: number) =>
    f.map((x): [number, number] => [x, dynamicResponseDb(dynamicEq.params, share, x, sampleRate)]);
  const bands: Series[] = dynamicEq.on
    ? [
        { label: "EQ between strokes", color: "accent", dashed: true, width: 2, points: response(0) },
        { label: "EQ at a stroke", color: "accent", width: 2.5, points: response(1) },
      ]
    : [];
  if (!spectra) return bands;
  const { atHits, between } = spectra;
  const top = Math.max(...atHits.levels);
  const points = (levels: ArrayLike<number>) => f.map((x, i): [number, number] => [x, levels[i]! - top]);
  return [
    { label: `at ${spectra.strokes} strokes`, color, width: 2, points: points(atHits.levels) },
    {
      label: `between, ${spectra.bleedEvents} bleed events`,
      color: "ink-soft",
      fill: true,
      width: 1.25,
      points: points(between.levels),
    },
    ...bands,
  ];
}

/** The bands that are on, to be dragged. */
function useBandHandles({ mic, dynamicEq, band, onBand }: Props): Handle[] {
  const set = useParams(mic, dynamicEq);
  const { params, on } = dynamicEq;
  const clip = (name: string, v: number) => within(processorType("dynamicEq").params[name] as NumberParam, v);
  if (!on) return [];
  return dynamicBands
    .filter((b) => params[`${b}Shape`] !== "off")
    .map((b): Handle => {
      const [frequency, gain] = [`${b}Frequency`, `${b}Gain`] as const;
      return {
        id: b,
        x: params[frequency] as number,
        y: within({ min: lowest, max: highest }, params[gain] as number),
        label: bandName(b).charAt(0),
        drag: (x, y, done) => {
          if (b !== band) onBand(b);
          set(
            {
              [frequency]: clip(frequency, Number(x.toPrecision(3))),
              [gain]: clip(gain, Math.round(2 * y) / 2),
            },
            done,
          );
        },
      };
    });
}

/** Spectra of a mic at its drum's strokes and between them, with the dynamic EQ's curves at rest and at a stroke. */
export function TonePicture(props: Props) {
  const { mic, dynamicEq } = props;
  const song = useSong((s) => s.song!);
  const { hits, sampleRate } = song;
  const { input, key } = recordedInput(song, mic);
  const { value } = useEvidence("spectra", key, { input, pieces: [mic.piece], hits, lateBy: mic.lateBy });
  const color = mic.piece.replace(/\d/, "");
  const tones = useMemo(
    () => tonesOf(value, dynamicEq, color, sampleRate),
    [value, dynamicEq, color, sampleRate],
  );
  const cancel = processorOf(mic, "cancel");
  const moving = useMemo(
    () => responseWhilePlaying(dynamicEq, cancel, sampleRate),
    [dynamicEq, cancel, sampleRate],
  );
  const handles = useBandHandles(props);
  return (
    <>
      <Legend series={tones} />
      <div className="half">
        <Plot
          caption={`Spectrum of ${mic.file} at its strokes and between them`}
          series={tones}
          x={frequencyAxis}
          y={{ label: "Level, dB", min: lowest, max: highest }}
          handles={handles}
          moving={moving}
        />
      </div>
    </>
  );
}
