"use client";
import { useMemo, useState } from "react";
import { processorType } from "../../core/processors";
import { strokesIn } from "../../core/shape/heardDrums";
import { nameOf } from "../../core/song/graph";
import { inputOf } from "../shared/chainInput";
import { useEvidence } from "../shared/evidenceClient";
import { shortName } from "../shared/format";
import { useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { levelGrip } from "./effectSeries";
import { EnvelopePicture } from "./EnvelopePicture";
import { PerStroke } from "./PerStroke";
import { useFit, type StrokePicturesProps } from "./reductionFit";
import { effectWords, figuresOf } from "./strokeWords";

/** The bleed is warned of when it comes up by more against the strokes, dB. */
const bleedWarns = 6;

/** What a processor does to every stroke, the average stroke before and after, what the bleed does. */
export function StrokePictures(props: StrokePicturesProps) {
  const { owner, state, picture } = props;
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const set = useParams(owner, state);
  const type = processorType(state.type);
  const { mains } = useMemo(() => strokesIn(song, owner), [song, owner]);
  const { input, key } = inputOf(song, id, owner, state.id);
  const ring = picture.ring ? (state.params[picture.ring] as number) : null;
  const asked = { input, processor: state, mains, ring };
  const effect = useEvidence("effect", JSON.stringify([key, state.type, state.params]), asked);
  const { value, busy, error } = effect;
  const fitted = useFit(props);
  const { fit } = fitted;
  const [wished, setWished] = useState<number | null>(null);
  const wish = fit && {
    now: wished,
    drag: (reduction: number, done: boolean) => {
      const whole = Math.max(0.5, Math.round(2 * reduction) / 2);
      setWished(done ? null : whole);
      if (done) fit(whole);
    },
  };
  const grip = levelGrip(type, state, picture.level, set);
  const figures = value && figuresOf(value);
  const over = figures ? figures.bleed - Math.min(0, figures.peaks) : 0;
  return (
    <>
      <h2>
        {shortName(nameOf(owner))}: {type.label}{" "}
        <small data-testid="effect">
          {value ? effectWords(type, picture, value) : busy ? "measuring …" : ""}
        </small>
      </h2>
      {over > bleedWarns && (
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
        mains={mains.length}
        grip={grip}
        wish={wish}
      />
      <EnvelopePicture {...props} {...fitted} value={value} busy={busy} grip={grip} />
    </>
  );
}
