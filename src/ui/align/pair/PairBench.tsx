"use client";
import { useMemo } from "react";
import type { PairSetting } from "../../../core/align/bands";
import { curveReach } from "../../../core/align/pairEvidence";
import { processorOf } from "../../../core/song/create";
import type { Proposal } from "../../../core/song/proposal";
import type { Mic } from "../../../core/song/song";
import { useEvidence } from "../../shared/evidenceClient";
import { shortName, signed } from "../../shared/format";
import { Legend, Plot } from "../../shared/Plot";
import { ProcessorPanel, useParams } from "../../shared/ProcessorPanel";
import { ProposalCard } from "../../shared/ProposalCard";
import { useSong } from "../../shared/songStore";
import { BandSums } from "../BandSums";
import { boundedDelay, delayOf, isInverted } from "../moves";
import { curveSeries, lowEnds, strokeSeries } from "./pairSeries";
import { PlacePanel } from "./PlacePanel";

interface Props {
  readonly main: Mic;
  readonly second: Mic;
  readonly title: string;
  readonly proposals: readonly Proposal[];
}

type Evidence = NonNullable<ReturnType<typeof usePair>["value"]>;

/** What two mics of a drum hear of its strokes. */
function usePair(main: Mic, second: Mic, times: readonly number[], sampleRate: number) {
  return useEvidence("pair", `${main.audio} ${second.audio} ${times.length}`, {
    main: { audio: main.audio!, start: main.start },
    second: { audio: second.audio!, start: second.start },
    times,
    sampleRate,
  });
}

interface PicturesProps {
  readonly main: Mic;
  readonly second: Mic;
  readonly value: Evidence | null;
}

/** The average stroke in both mics, and the low end of their sum against the delay, which is dragged. */
function PairPictures({ main, second, value }: PicturesProps) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const setDelay = useParams(second, processorOf(second, "delay"), true);
  const [delay, inverted] = [delayOf(second), isInverted(second)];
  const overlay = useMemo(
    () => (value ? strokeSeries(value, { delay, inverted }, main, second, sampleRate) : []),
    [value, delay, inverted, main, second, sampleRate],
  );
  const curve = useMemo(() => (value ? curveSeries(value, inverted) : []), [value, inverted]);
  const now = value && lowEnds(value, { delay, inverted });
  const levels = value ? [...value.curve.normal, ...value.curve.inverted] : [0];
  const floor = Math.max(-30, Math.floor(Math.min(...levels) / 6) * 6);
  const sum = now
    ? `low end of the sum: ${signed(now.before, 1)} dB as recorded, ${signed(now.now, 1)} dB now`
    : "";
  return (
    <>
      <Legend series={overlay} />
      <div className="half">
        <Plot
          caption={`Average stroke of ${second.file} over ${main.file}`}
          series={overlay}
          x={{ label: "Time from the stroke, ms", min: -3, max: 12 }}
          y={{ label: "Average stroke", min: -1.4, max: 1.4, ticks: [-1, 0, 1] }}
        />
      </div>
      <Legend series={curve} note={sum} />
      <div className="half">
        <Plot
          caption="Low end of the sum of both mics against the delay of the second"
          series={curve}
          x={{
            label: `Delay of ${shortName(second.file)}, smp (drag the line)`,
            min: -curveReach,
            max: curveReach,
          }}
          y={{ label: "Below 250 Hz, dB", min: floor, max: 8 }}
          marks={[
            { id: "zero", axis: "x", value: 0, label: "as recorded", color: "ink-soft", dashed: true },
            {
              id: "delay",
              axis: "x",
              value: Math.min(curveReach, Math.max(-curveReach, delay)),
              label: `set: ${signed(delay, 2)} smp`,
              drag: (d, done) => setDelay({ delay: boundedDelay(Math.round(d)) }, done),
            },
          ]}
        />
      </div>
    </>
  );
}

/** Two mics of one drum: average stroke laid over the main one, low end of the sum against the delay, the setting in both. */
export function PairBench({ main, second, title, proposals }: Props) {
  const { sampleRate, hits } = useSong((s) => s.song!);
  const times = useMemo(
    () => hits.filter((h) => h.piece === main.piece && !h.ghost).map((h) => h.time),
    [hits, main.piece],
  );
  const { value, busy, error } = usePair(main, second, times, sampleRate);
  const rotation = processorOf(second, "rotation");
  const { frequency, q } = rotation.params as { frequency: number; q: number };
  const setting: PairSetting = {
    polarity: isInverted(second) ? -1 : 1,
    delay: delayOf(second),
    rotation: rotation.on ? { frequency, q } : null,
  };
  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          {title} {value && <small>over {value.strokes} strokes</small>} {busy && <small>measuring …</small>}
        </h2>
        {error && <p className="trouble">The picture could not be made: {error}.</p>}
        <PairPictures main={main} second={second} value={value} />
        {value && <BandSums spectra={value.spectra} setting={setting} />}
      </div>
      <aside className="settings">
        {proposals.map((p) => (
          <ProposalCard key={p.id} proposal={p} />
        ))}
        <PlacePanel main={main} second={second} times={times} sampleRate={sampleRate} />
        <ProcessorPanel owner={second} state={rotation} />
      </aside>
    </div>
  );
}
