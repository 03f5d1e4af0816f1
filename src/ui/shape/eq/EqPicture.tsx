"use client";
import { useMemo, useState } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { heardDrums, lateIn, strokesIn } from "../../../core/shape/heardDrums";
import { nameOf, type Owner } from "../../../core/song/graph";
import type { ProcessorState } from "../../../core/song/song";
import { inputOf } from "../../shared/chainInput";
import { useEvidence } from "../../shared/evidenceClient";
import { shortName } from "../../shared/format";
import { colorOf, useTone } from "../../shared/owners";
import { frequencyAxis, Legend, Plot, type Series } from "../../shared/Plot";
import { useParams } from "../../shared/ProcessorPanel";
import { useSong } from "../../shared/songStore";
import { BandButtons } from "./BandButtons";
import { frequencyOf, useBands } from "./bands";
import { eqMarks, eqSeries, phaseSeries, strokeParts, type StrokePart } from "./eqSeries";
import { PartialsRow } from "./PartialsRow";

/** Spectra of an owner's strokes before an EQ, and the tones in which its drum rings. */
function useSpectra(owner: Owner, state: ProcessorState) {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const tone = useTone(owner);
  const { input, key } = inputOf(song, id, owner, state.id);
  const asked = { input, pieces: heardDrums(song, owner), hits: song.hits, lateBy: lateIn(owner) };
  const spectra = useEvidence("spectra", key, asked);
  const mains = useMemo(() => strokesIn(song, owner).mains, [song, owner]);
  const ofTones = tone && mains.length > 0 ? { input, mains, fundamental: tone.fundamental } : null;
  const tones = useEvidence("partials", ofTones ? `${key} ${tone!.fundamental}` : "", ofTones);
  return { tone, spectra, tones };
}

interface PartChoiceProps {
  readonly part: StrokePart;
  readonly choose: (part: StrokePart) => void;
  readonly ghosts: number | undefined;
}

function PartChoice({ part, choose, ghosts }: PartChoiceProps) {
  return (
    <ButtonGroup size="sm" aria-label="Spectrum of">
      {(Object.keys(strokeParts) as StrokePart[]).map((one) => (
        <Button
          key={one}
          variant="outline-primary"
          active={part === one}
          aria-pressed={part === one}
          disabled={one === "atGhosts" && ghosts === 0}
          onClick={() => choose(one)}
        >
          {strokeParts[one]}
        </Button>
      ))}
    </ButtonGroup>
  );
}

function PhasePlot({ owner, series }: { owner: Owner; series: readonly Series[] }) {
  const furthest = Math.max(90, ...series.flatMap((s) => s.points.map((p) => Math.abs(p[1]))));
  const end = 90 * Math.ceil(furthest / 90);
  const ticks = [-1, -0.5, 0, 0.5, 1].map((n) => n * end);
  return (
    <div className="half">
      <Plot
        caption={`Phase of the EQ of ${nameOf(owner)}`}
        series={series}
        x={frequencyAxis}
        y={{ label: "Phase, degrees", min: -end, max: end, ticks }}
      />
    </div>
  );
}

function PhaseButton({ shown, show }: { shown: boolean; show: (shown: boolean) => void }) {
  return (
    <Button
      size="sm"
      variant="outline-primary"
      active={shown}
      aria-pressed={shown}
      onClick={() => show(!shown)}
    >
      Phase
    </Button>
  );
}

/** EQ response drawn over the spectrum of the strokes and of what lies between; bands are dragged. */
export function EqPicture({ owner, state }: { owner: Owner; state: ProcessorState }) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const set = useParams(owner, state);
  const bands = useBands(owner, state);
  const color = colorOf(owner);
  const { tone, spectra, tones } = useSpectra(owner, state);
  const [part, setPart] = useState<StrokePart>("atHits");
  const [phaseShown, setPhaseShown] = useState(false);
  const { value, busy, error } = spectra;
  const series = useMemo(
    () => eqSeries(state, sampleRate, value, part, color),
    [state, sampleRate, value, part, color],
  );
  const phase = useMemo(
    () => (phaseShown ? phaseSeries(state, sampleRate) : []),
    [phaseShown, state, sampleRate],
  );
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
        <PartChoice part={part} choose={setPart} ghosts={value?.ghosts} />
        <BandButtons
          bands={bands}
          tone={tone}
          fundamental={state.params["fundamental"] as number}
          tie={(fundamental) => set({ fundamental }, true)}
        />
        <PhaseButton shown={phaseShown} show={setPhaseShown} />
      </div>
      {tone && tones.value && (
        <PartialsRow
          found={tones.value}
          taken={(p) => !bands.room || bands.near(p.frequency)}
          cut={(band) => bands.put(band, { fundamental: frequencyOf(tone.fundamental) })}
        />
      )}
      <div className={phaseShown ? "half" : "whole"}>
        <Plot
          caption={`EQ of ${nameOf(owner)} over the spectrum of its strokes`}
          series={series}
          x={frequencyAxis}
          y={{ label: "Gain and level, dB", min: -60, max: 18 }}
          marks={eqMarks(state, tone, tones.value, (highPassFrequency, done) =>
            set({ highPassFrequency }, done),
          )}
          handles={bands.handles}
        />
      </div>
      {phaseShown && <PhasePlot owner={owner} series={phase} />}
    </>
  );
}
