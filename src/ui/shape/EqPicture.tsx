"use client";
import { useMemo, useRef, useState } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { bandFrequency, bandWorks, bellCount, designEq, shownBells } from "../../core/processors/eq/eq";
import { phaseDegrees, responseDb } from "../../core/signal/biquad";
import { curveFrequencies } from "../../core/measure/spectrum";
import { ringTold } from "../../core/shape/findTone";
import { heardDrums, lateIn, strokesIn } from "../../core/shape/heardDrums";
import { nameOf, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { shortName } from "../shared/format";
import { inputOf } from "../shared/chainInput";
import { useEvidence } from "../shared/evidenceClient";
import { frequencyAxis, Legend, Plot, type Handle, type Mark, type Series } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { colorOf, useTone } from "../shared/owners";
import { useSong } from "../shared/songStore";
import { overtones, PartialsRow } from "./PartialsRow";

const limits = { gain: 24, low: 20, high: 20000 };
/** Parts of a stroke whose spectrum may be drawn. */
const parts = {
  atHits: "Strokes",
  stick: "First 10 ms",
  tail: "Tail",
  atGhosts: "Ghost notes",
} as const;
type StrokePart = keyof typeof parts;

/** While it is swept a band is narrow and loud; where it is let go it becomes a cut. */
const swept = { gain: 12, q: 9 };
const sweptCut = { gain: -6, q: 4 };
/** How a ring is cut by a press. */
const ringCut = { Gain: -7, Q: 8, Shape: "bell" } as const;
/** Where the grip for sweeping waits, Hz. */
const sweepFrom = 1000;

const frequencyOf = (x: number) => Math.min(limits.high, Math.max(limits.low, Number(x.toPrecision(3))));
const gainOf = (y: number) => Math.min(limits.gain, Math.max(-limits.gain, Math.round(y * 10) / 10));

/** Gain with which a band comes in, dB: enough to be seen and heard. */
const addedGain = 3;

/** EQ response drawn over the spectrum of the strokes and of what lies between; bands are dragged. */
export function EqPicture({ owner, state }: { owner: Owner; state: ProcessorState }) {
  const song = useSong((s) => s.song!);
  const tone = useTone(owner);
  const { hits, sampleRate } = song;
  const set = useParams(owner, state);
  const v = (name: string) => state.params[name] as number;
  const color = colorOf(owner);
  const id = useSong((s) => s.id);
  const [part, setPart] = useState<StrokePart>("atHits");
  const { input, key } = inputOf(song, id, owner, state.id);
  const asked = { input, pieces: heardDrums(song, owner), hits, lateBy: lateIn(owner) };
  const { value, busy, error } = useEvidence("spectra", key, asked);
  const mains = useMemo(() => strokesIn(song, owner).mains, [song, owner]);
  const ofTones = tone && mains.length > 0 ? { input, mains, fundamental: tone.fundamental } : null;
  const tones = useEvidence("partials", ofTones ? `${key} ${tone!.fundamental}` : "", ofTones);
  const series = useMemo((): Series[] => {
    const f = Array.from(curveFrequencies);
    const sections = designEq(state.params, sampleRate);
    const response: Series = {
      label: state.on ? "EQ" : "EQ (off)",
      color: "accent",
      width: 2.75,
      dashed: !state.on,
      points: f.map((x) => [x, responseDb(sections, x, sampleRate)]),
    };
    if (!value || value.strokes === 0) return [response];
    const { levels } = value[part];
    const top = Math.max(...levels);
    const at = (list: Float64Array, i: number) => list[i]! - top - 6;
    const many = part === "atGhosts" ? value.ghosts : value.strokes;
    return [
      { label: part === "atHits" ? `${many} strokes` : part === "atGhosts" ? `${many} ghost notes` : `${parts[part].toLowerCase()} of ${many} strokes`, color, width: 2, fill: true, points: f.map((x, i) => [x, at(levels, i)]) },
      { label: "between strokes", color: "ink-soft", width: 1.25, dashed: true, points: f.map((x, i) => [x, at(value.between.levels, i)]) },
      { label: "the same after EQ", color, width: 1.25, dashed: true, points: f.map((x, i) => [x, at(levels, i) + responseDb(sections, x, sampleRate)]) },
      response,
    ]; // prettier-ignore
  }, [value, part, state, color, sampleRate]);
  const [phaseShown, setPhaseShown] = useState(false);
  const phase = useMemo((): Series[] => {
    if (!phaseShown) return [];
    const sections = designEq(state.params, sampleRate);
    const points = Array.from(curveFrequencies, (x): [number, number] => [x, phaseDegrees(sections, x, sampleRate)]); // prettier-ignore
    return [{ label: "phase", color: "accent", width: 2, points }];
  }, [phaseShown, state, sampleRate]);
  const furthest = Math.max(90, ...phase.flatMap((s) => s.points.map((p) => Math.abs(p[1]))));
  const phaseEnd = 90 * Math.ceil(furthest / 90);
  const all = Array.from({ length: bellCount }, (_, i) => i + 1);
  const shown = all.filter((n) => n <= shownBells || bandWorks(state.params, n));
  const unused = all.find((n) => !shown.includes(n));
  /** Puts a band at a frequency: a tied one at another ratio, so that it stays tied. */
  const placed = (n: number, x: number): Record<string, number> =>
    v(`bell${n}Ratio`) > 0
      ? { [`bell${n}Ratio`]: Math.min(64, Math.round((100 * frequencyOf(x)) / v("fundamental")) / 100) }
      : { [`bell${n}Frequency`]: frequencyOf(x) };
  const on = state.on ? undefined : true;
  /** A band at what was found of the drum: a lift tied to its fundamental, or a narrow cut of its ring. */
  const put = (band: Record<string, number | string>, more: Record<string, number> = {}) => {
    const named = Object.entries(band).map(([name, value]) => [`bell${unused}${name}`, value]);
    set({ ...more, ...(Object.fromEntries(named) as Record<string, number | string>) }, true, on);
  };
  const near = (frequency: number) =>
    shown.some(
      (n) =>
        Math.abs(Math.log2(bandFrequency(state.params, n) / frequency)) < 0.08 && v(`bell${n}Gain`) !== 0,
    );
  const sweptBand = useRef<number | null>(null);
  const tied = all.filter((n) => v(`bell${n}Ratio`) > 0);
  const handles: Handle[] = shown.map((n) => ({
    id: `bell${n}`,
    x: bandFrequency(state.params, n),
    y: v(`bell${n}Gain`),
    label: String(n),
    name: `Band ${n}`,
    drag: (x, y, done) => set({ ...placed(n, x), [`bell${n}Gain`]: gainOf(y) }, done, on),
  }));
  const sweeping = sweptBand.current ?? unused;
  if (sweeping !== undefined)
    handles.push({
      id: "sweep",
      x: sweptBand.current === null ? sweepFrom : v(`bell${sweeping}Frequency`),
      y: swept.gain,
      label: "⌕",
      name: "Search by ear",
      color: "warn",
      drag: (x, _, done) => {
        // The band that it began with: others do not come in while it moves.
        sweptBand.current = done ? null : sweeping;
        const { gain, q } = done ? sweptCut : swept;
        const band = { Frequency: frequencyOf(x), Gain: gain, Q: q, Ratio: 0, Shape: "bell" };
        const named = Object.entries(band).map(([name, value]) => [`bell${sweeping}${name}`, value]);
        set(Object.fromEntries(named) as Record<string, number | string>, done, on);
      },
    });
  const marks: Mark[] = tone
    ? [
        { id: "fundamental", axis: "x", value: tone.fundamental, label: `fundamental ${tone.fundamental.toFixed(0)} Hz`, color: "ink-soft", dashed: true },
        ...(tone.ringDb >= ringTold
          ? [{ id: "ring", axis: "x" as const, value: tone.ring, label: `rings at ${tone.ring.toFixed(0)} Hz, ${tone.ringDb.toFixed(0)} dB out`, color: "hat", dashed: true }]
          : []),
      ] // prettier-ignore
    : [];
  for (const { frequency, ratio } of overtones(tones.value, tone))
    marks.push({ id: `partial ${ratio}`, axis: "x", value: frequency, label: "", color: "ink-soft", dashed: true }); // prettier-ignore
  if (state.params["highPassSlope"] !== "off")
    marks.push({
      id: "highPass",
      axis: "x",
      value: Math.max(30, v("highPassFrequency")),
      label: `high-pass ${v("highPassFrequency").toFixed(0)} Hz`,
      drag: (x, done) => set({ highPassFrequency: frequencyOf(x) }, done),
    });
  return (
    <>
      <h2>
        {shortName(nameOf(owner))}: EQ {busy && <small>measuring …</small>}
      </h2>
      {error && <p className="trouble">The picture could not be made: {error}.</p>}
      <div className="picture-head">
        <Legend
          series={series}
          note="drag a number to set a band; drag ⌕ to search by ear: let go, and it is cut there"
        />
        <ButtonGroup size="sm" aria-label="Spectrum of">
          {(Object.keys(parts) as StrokePart[]).map((one) => (
            <Button
              key={one}
              variant="outline-primary"
              active={part === one}
              aria-pressed={part === one}
              disabled={one === "atGhosts" && value?.ghosts === 0}
              onClick={() => setPart(one)}
            >
              {parts[one]}
            </Button>
          ))}
        </ButtonGroup>
        <Button
          size="sm"
          variant="outline-primary"
          disabled={unused === undefined}
          onClick={() => set({ [`bell${unused}Gain`]: addedGain }, true, on)}
        >
          Add a band
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          active={phaseShown}
          aria-pressed={phaseShown}
          onClick={() => setPhaseShown(!phaseShown)}
        >
          Phase
        </Button>
        {tone && unused !== undefined && !near(tone.fundamental) && (
          <Button
            size="sm"
            variant="outline-primary"
            title="A band that follows the drum's fundamental"
            onClick={() =>
              put(
                { Ratio: 1, Gain: addedGain, Q: 1.2, Shape: "bell" },
                { fundamental: frequencyOf(tone.fundamental) },
              )
            }
          >
            Lift the fundamental
          </Button>
        )}
        {tone && tone.ringDb >= ringTold && unused !== undefined && !near(tone.ring) && (
          <Button
            size="sm"
            variant="outline-primary"
            title="A narrow cut where the drum rings"
            onClick={() => put({ Frequency: frequencyOf(tone.ring), Ratio: 0, ...ringCut })}
          >
            Cut the ring
          </Button>
        )}
        {tone && tied.length > 0 && Math.abs(v("fundamental") / tone.fundamental - 1) > 0.005 && (
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => set({ fundamental: frequencyOf(tone.fundamental) }, true)}
          >
            Tie to {tone.fundamental.toFixed(0)} Hz
          </Button>
        )}
      </div>
      {tone && tones.value && (
        <PartialsRow
          found={tones.value}
          taken={(p) => unused === undefined || near(p.frequency)}
          cut={(band) => put(band, { fundamental: frequencyOf(tone.fundamental) })}
        />
      )}
      <div className={phaseShown ? "half" : "whole"}>
        <Plot
          caption={`EQ of ${nameOf(owner)} over the spectrum of its strokes`}
          series={series}
          x={frequencyAxis}
          y={{ label: "Gain and level, dB", min: -60, max: 18 }}
          marks={marks}
          handles={handles}
        />
      </div>
      {phaseShown && (
        <div className="half">
          <Plot
            caption={`Phase of the EQ of ${nameOf(owner)}`}
            series={phase}
            x={frequencyAxis}
            y={{
              label: "Phase, degrees",
              min: -phaseEnd,
              max: phaseEnd,
              ticks: [-1, -0.5, 0, 0.5, 1].map((n) => n * phaseEnd),
            }}
          />
        </div>
      )}
    </>
  );
}
