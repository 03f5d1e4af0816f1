"use client";
import { useEffect, useMemo, useState } from "react";
import { Button } from "react-bootstrap";
import type { AnyValues, NumberParam } from "../../core/params";
import type { PictureOf } from "../../core/processor";
import { processorType } from "../../core/processors";
import { envelopeTimesMs } from "../../core/shape/hitReductions";
import { nameOf, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { inputOf } from "../shared/chainInput";
import { askEvidence, useEvidence } from "../shared/evidenceClient";
import { shortName } from "../shared/format";
import { Legend, Plot, type Mark, type Series } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { colorOf } from "../shared/owners";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../../core/shape/heardDrums";
import { AttackGuide } from "./AttackGuide";
import { liftHandles } from "./liftHandles";
import { PerStroke } from "./PerStroke";
import { effectWords, figuresOf } from "./strokeWords";

/** Lines of the average stroke's picture that stand for times of the processor, ms. */
const timeMarks = (state: ProcessorState): Mark[] => {
  const { attack, release } = state.params;
  const at = (id: string, label: string, seconds: unknown): Mark[] =>
    typeof seconds === "number" && 1000 * seconds < envelopeTimesMs[envelopeTimesMs.length - 1]!
      ? [
          {
            id,
            axis: "x",
            value: 1000 * seconds,
            label: `${label} ${(1000 * seconds).toFixed(seconds < 0.01 ? 1 : 0)} ms`,
            color: "ink-soft",
            dashed: true,
          },
        ]
      : [];
  return [...at("attack", "63 % there: attack", attack), ...at("release", "release", release)];
};

interface StrokePicturesProps {
  owner: Owner;
  state: ProcessorState;
  picture: Extract<PictureOf, { over: "strokes" }>;
}

/** A reduction that is sought again: the level is fitted to it over the strokes as they come in. */
function useFit({ owner, state, picture }: StrokePicturesProps) {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const set = useParams(owner, state);
  const [fitting, setFitting] = useState(false);
  const { level } = picture;
  if (!level || picture.shows !== "reductions") return { fitting: false, fit: null };
  /** `values`: what is set with it, as one step. */
  const fit = (wishedDb: number, values: AnyValues = {}) => {
    const { input } = inputOf(song, id, owner, state.id);
    const { mains } = strokesIn(song, owner);
    setFitting(true);
    const processor = { ...state, params: { ...state.params, ...values } };
    askEvidence("fit", { input, processor, level, mains, wishedDb })
      .then(({ threshold }) => set({ ...values, [level]: threshold }, true))
      .catch((error: Error) => useSong.getState().tell(`The level could not be fitted: ${error.message}.`))
      .finally(() => setFitting(false));
  };
  return { fitting, fit };
}

/** From this much on a reduction counts as another one, dB. */
const otherFrom = 0.3;

/** The reduction of before the attack alone was turned, when the strokes get another one now; null: none was lost. */
function useLostReduction({ params }: ProcessorState, settled: number | null): number | null {
  const { attack, ...rest } = params;
  const others = JSON.stringify(rest);
  const [before, setBefore] = useState<{ attack: unknown; others: string; reduction: number } | null>(null);
  useEffect(() => {
    if (settled === null) return;
    setBefore((b) =>
      b && b.attack !== attack && b.others === others ? b : { attack, others, reduction: settled },
    );
  }, [settled, attack, others]);
  const turned = before !== null && before.attack !== attack && before.others === others;
  return turned && settled !== null && Math.abs(settled - before.reduction) > otherFrom
    ? before.reduction
    : null;
}

/** What a processor does to every stroke, the average stroke before and after, what the bleed does. */
export function StrokePictures(props: StrokePicturesProps) {
  const { owner, state, picture } = props;
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const set = useParams(owner, state);
  const type = processorType(state.type);
  const color = colorOf(owner);
  const strokes = useMemo(() => strokesIn(song, owner), [song, owner]);
  const { input, key } = inputOf(song, id, owner, state.id);
  const { value, busy, error } = useEvidence("effect", JSON.stringify([key, state.type, state.params]), {
    input,
    processor: state,
    mains: strokes.mains,
    ring: picture.ring ? (state.params[picture.ring] as number) : null,
  });
  const { fit, fitting } = useFit(props);
  const [wished, setWished] = useState<number | null>(null);
  /** Values of before the attack was sought by ear. */
  const [guided, setGuided] = useState<AnyValues | null>(null);
  const figures = value && figuresOf(value);
  const lost = useLostReduction(state, figures && !busy ? figures.reduction : null);
  const envelope = useMemo((): Series[] => {
    if (!value) return [];
    const curve = (levels: readonly number[]) =>
      envelopeTimesMs.map((t, i): [number, number] => [t, levels[i]!]);
    if (picture.lifts)
      return [
        {
          label: "loudest third before",
          color: "ink-soft",
          dashed: true,
          points: curve(value.loudThird.before),
        },
        { label: "loudest third after", color, width: 2.5, points: curve(value.loudThird.after) },
        {
          label: "softest third before",
          color: "ink-soft",
          dashed: true,
          width: 1,
          points: curve(value.softThird.before),
        },
        { label: "softest third after", color, width: 1.25, points: curve(value.softThird.after) },
      ];
    return [
      {
        label: "before",
        color: "ink-soft",
        dashed: true,
        points: envelopeTimesMs.map((t, i) => [t, value.envelopeBefore[i]!]),
      },
      {
        label: "after",
        color,
        width: 2.5,
        points: envelopeTimesMs.map((t, i) => [t, value.envelopeAfter[i]!]),
      },
    ];
  }, [value, color, picture.lifts]);
  /** The gain behind it that makes the strokes as loud as they come in; null: they are, or there is none. */
  const matched = (): number | null => {
    const spec = type.output === null ? null : (type.params[type.output] as NumberParam);
    const louder = figures?.louder ?? NaN;
    if (!spec || !Number.isFinite(louder) || Math.abs(louder) < 0.05) return null;
    const gain = (state.params[type.output!] as number) - louder;
    return Math.min(spec.max, Math.max(spec.min, Math.round(gain * 10) / 10));
  };
  const match = value && !busy ? matched() : null;
  const { level } = picture;
  const grip = level
    ? (axis: "x" | "y"): Mark => {
        const spec = type.params[level] as NumberParam;
        const now = state.params[level] as number;
        return {
          id: "level",
          axis,
          value: now,
          label: `${spec.label.toLowerCase()} ${now.toFixed(1).replace("-", "−")} dBFS`,
          drag: (v, done) =>
            set({ [level]: Math.min(spec.max, Math.max(spec.min, Math.round(v * 2) / 2)) }, done),
        };
      }
    : null;
  const lifts = picture.lifts && value ? liftHandles(picture.lifts, value, state, type, set) : [];
  const over = figures ? figures.bleed - Math.min(0, figures.peaks) : 0;
  return (
    <>
      <h2>
        {shortName(nameOf(owner))}: {type.label}{" "}
        <small data-testid="effect">
          {value ? effectWords(type, picture, value) : busy ? "measuring …" : ""}
        </small>
      </h2>
      {figures && over > 6 && (
        <p className="warn">
          The bleed comes up {over.toFixed(1)} dB against the strokes: clean more, or compress less.
        </p>
      )}
      {error && <p className="trouble">The picture could not be made: {error}.</p>}
      <PerStroke
        owner={owner}
        state={state}
        type={type}
        picture={picture}
        value={value}
        mains={strokes.mains.length}
        grip={grip}
        wish={
          fit && {
            now: wished,
            drag: (reduction, done) => {
              const whole = Math.max(0.5, Math.round(2 * reduction) / 2);
              setWished(done ? null : whole);
              if (done) fit(whole);
            },
          }
        }
      />
      <div className="picture-head">
        <Legend series={envelope} note={fitting ? "fitting the level …" : ""} />
        {lost !== null && fit && guided === null && (
          <Button size="sm" variant="outline-primary" disabled={fitting} onClick={() => fit(lost)}>
            Back to {lost.toFixed(1)} dB of reduction
          </Button>
        )}
        {fit && state.type === "compressor" && (
          <AttackGuide
            key={state.id}
            owner={owner}
            state={state}
            fit={fit}
            fitting={fitting}
            before={guided}
            setBefore={setGuided}
            usual={picture.usual ? Math.round((picture.usual[0] + picture.usual[1]) / 2) : 5}
          />
        )}
        {type.output !== null && guided === null && (
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
          caption={`Average stroke of ${nameOf(owner)} before and after`}
          series={envelope}
          x={{ label: "Time from the stroke, ms", min: -10, max: 200 }}
          y={{ label: "Level, dBFS", min: -72, max: 6 }}
          handles={lifts}
          marks={[...timeMarks(state), ...(grip && picture.shows === "reductions" ? [grip("y")] : [])]}
        />
      </div>
    </>
  );
}
