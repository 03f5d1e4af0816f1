"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import type { LayerPair } from "../../../core/layers/alignLayer";
import { takePhase } from "../../../core/layers/takePhase";
import type { LayerMic, Mic, Song } from "../../../core/song/song";
import { askEvidence, useEvidence } from "../../shared/evidenceClient";
import { shortName, signed } from "../../shared/format";
import { colorOf } from "../../shared/owners";
import { Legend, Plot, type Series } from "../../shared/Plot";
import { useSong } from "../../shared/songStore";
import { besideAsk } from "./besideAsk";
import { setLayer } from "./layerMoves";

/** A stroke counts as in phase when it is no further than this from the best it could be, dB. */
const near = 0.5;
const mean = (values: readonly number[]): number =>
  values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);

interface Props {
  readonly song: Song;
  readonly main: Mic;
  readonly mic: LayerMic;
}

/** Brings a layer into phase, by every stroke. */
function BringButton({ song, main, mic, disabled }: Props & { disabled: boolean }) {
  const { change, tell } = useSong.getState();
  const [bringing, setBringing] = useState(false);
  const { shifts } = mic.layer;
  const bring = async () => {
    setBringing(true);
    try {
      // The picture has some strokes of a long song; here each one counts.
      const found = await askEvidence("layerPhase", { ...besideAsk(song, main, mic, Infinity), shifts });
      change(`${shortName(mic.file)} into phase`, takePhase(mic, found));
    } catch (problem) {
      tell(`${shortName(mic.file)} was not brought into phase: ${(problem as Error).message}.`);
    } finally {
      setBringing(false);
    }
  };
  return (
    <Button
      size="sm"
      variant="outline-primary"
      disabled={disabled || bringing}
      title="Turns the layer over where that is better, single strokes too, and moves it at every stroke by up to 6 ms so that its low end adds to the mic's"
      onClick={() => void bring()}
    >
      {bringing ? "Measuring every stroke …" : "Bring into phase"}
    </Button>
  );
}

/** How the strokes stand, in words. */
function told(strokes: readonly LayerPair[]): string {
  const now = mean(strokes.map((s) => s.nowDb));
  const best = mean(strokes.map((s) => s.bestDb));
  const right = strokes.filter((s) => s.bestDb - s.nowDb <= near).length;
  return `low end together ${signed(now, 1)} dB, at best ${signed(best, 1)} dB; ${right} of ${strokes.length} strokes within ${near} dB of it`;
}

/** The low end of layer and mic together at every stroke, as it is and at its best, and what brings it there. */
export function LayerPhase({ song, main, mic }: Props) {
  const { shifts } = mic.layer;
  const ask = { ...besideAsk(song, main, mic), shifts };
  const asked = ask.times.length > 0 ? ask : null;
  const { value, busy, error } = useEvidence("layerPhase", asked ? JSON.stringify(asked) : "", asked);
  const strokes = value?.strokes ?? [];
  const points = (db: "nowDb" | "bestDb") => strokes.map((s): [number, number] => [s.time, s[db]]);
  const series: Series[] = [
    { label: "at its best", color: "ink-soft", kind: "points", radius: 3, points: points("bestDb") },
    { label: "as it plays", color: colorOf(main), kind: "points", radius: 4, points: points("nowDb") },
  ];
  return (
    <>
      <h2>
        {shortName(mic.file)} with {shortName(main.file)}{" "}
        <small data-testid="layer-phase">
          {error
            ? `the picture could not be made: ${error}`
            : strokes.length > 0
              ? told(strokes)
              : busy
                ? "measuring …"
                : "no stroke is played"}
        </small>
      </h2>
      <div className="picture-head">
        <Legend series={series} note="below 250 Hz, against both apart" />
        <BringButton song={song} main={main} mic={mic} disabled={!value || busy || strokes.length === 0} />
        {shifts.length > 0 && (
          <Button size="sm" variant="outline-primary" onClick={() => setLayer(mic, { shifts: [] })}>
            Back onto the strokes
          </Button>
        )}
      </div>
      <div className="half">
        <Plot
          caption={`Low end of ${mic.file} and ${main.file} together at every stroke`}
          series={series}
          x={{ label: "Song, s", min: 0, max: Math.ceil(song.frames / song.sampleRate) }}
          y={{ label: "Sum below 250 Hz, dB", min: -12, max: 4 }}
        />
      </div>
    </>
  );
}
