"use client";
import { useMemo } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import type { PairSetting } from "../../core/align/bands";
import { curveReach } from "../../core/align/pairEvidence";
import type { Proposal } from "../../core/song/proposal";
import { processorOf } from "../../core/song/create";
import type { Mic } from "../../core/song/song";
import { framesToCm, shortName, signed } from "../shared/format";
import { Legend, Plot, type AxisSpec, type Series } from "../shared/Plot";
import { TypedField } from "../shared/ParamField";
import { ProposalCard } from "../shared/ProposalCard";
import { useEvidence } from "../shared/evidenceClient";
import { ProcessorPanel, useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { BandSums } from "./BandSums";
import { ChainWarning } from "./ChainWarning";
import { boundedDelay, delayOf, isInverted, lockMic, nudgeMic, nudges } from "./moves";

interface Props {
  readonly main: Mic;
  readonly second: Mic;
  readonly title: string;
  readonly proposals: readonly Proposal[];
}

/** Two mics of one drum: average stroke laid over the main one, low end of the sum against the delay, the setting in both. */
export function PairBench({ main, second, title, proposals }: Props) {
  const song = useSong((s) => s.song!);
  const { sampleRate, hits } = song;
  const times = useMemo(
    () => hits.filter((h) => h.piece === main.piece && !h.ghost).map((h) => h.time),
    [hits, main.piece],
  );
  const ask = {
    main: { audio: main.audio!, start: main.start },
    second: { audio: second.audio!, start: second.start },
    times,
    sampleRate,
  };
  const { value, busy, error } = useEvidence("pair", `${main.audio} ${second.audio} ${times.length}`, ask);
  const delayState = processorOf(second, "delay");
  const polarityState = processorOf(second, "polarity");
  const setDelay = useParams(second, delayState, true);
  const setPolarity = useParams(second, polarityState, true);
  const rotationState = processorOf(second, "rotation");
  const delay = delayOf(second);
  const inverted = isInverted(second);
  const { frequency, q } = rotationState.params as { frequency: number; q: number };
  const setting: PairSetting = {
    polarity: inverted ? -1 : 1,
    delay,
    rotation: rotationState.on ? { frequency, q } : null,
  };
  const spec = processorType("delay").params["delay"] as NumberParam;

  const overlay = useMemo((): Series[] => {
    if (!value) return [];
    const sign = inverted ? -1 : 1;
    const shift = (1000 * delay) / sampleRate;
    return [
      { label: `${shortName(main.file)}, main`, color: "ink", width: 2.5, points: value.timeMs.map((t, i) => [t, value.main[i]!]) },
      { label: "as recorded", color: "ink-soft", dashed: true, width: 1.25, points: value.timeMs.map((t, i) => [t, value.second[i]!]) },
      { label: `${shortName(second.file)} as set`, color: "accent", width: 2.25, points: value.timeMs.map((t, i) => [t + shift, sign * value.second[i]!]) },
      { label: "its spread over the strokes", color: "accent", dashed: true, width: 1, points: value.timeMs.map((t, i) => [t + shift, sign * value.second[i]! + value.deviation[i]!]) },
    ]; // prettier-ignore
  }, [value, delay, inverted, sampleRate, main.file, second.file]);
  const curve = useMemo((): Series[] => {
    if (!value) return [];
    const { delays, normal, inverted: turned } = value.curve;
    return [
      { label: "as recorded", color: "snare", width: inverted ? 1.25 : 2.5, dashed: inverted, points: delays.map((d, i) => [d, normal[i]!]) },
      { label: "turned over", color: "hat", width: inverted ? 2.5 : 1.25, dashed: !inverted, points: delays.map((d, i) => [d, turned[i]!]) },
    ]; // prettier-ignore
  }, [value, inverted]);
  const energyNow = useMemo(() => {
    if (!value) return null;
    const { delays, normal, inverted: turned } = value.curve;
    const at = (d: number, list: readonly number[]) => {
      const i = Math.min(
        delays.length - 2,
        Math.max(0, Math.floor((d - delays[0]!) / (delays[1]! - delays[0]!))),
      );
      const share = Math.min(1, Math.max(0, (d - delays[i]!) / (delays[1]! - delays[0]!)));
      return list[i]! + share * (list[i + 1]! - list[i]!);
    };
    return { before: at(0, normal), now: at(delay, inverted ? turned : normal) };
  }, [value, delay, inverted]);
  const timeAxis: AxisSpec = { label: "Time from the stroke, ms", min: -3, max: 12 };
  const waveAxis: AxisSpec = { label: "Average stroke", min: -1.4, max: 1.4, ticks: [-1, 0, 1] };
  const levels = value ? [...value.curve.normal, ...value.curve.inverted] : [0];
  const floor = Math.max(-30, Math.floor(Math.min(...levels) / 6) * 6);

  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          {title} {value && <small>over {value.strokes} strokes</small>} {busy && <small>measuring …</small>}
        </h2>
        {error && <p className="trouble">The picture could not be made: {error}.</p>}
        <Legend series={overlay} />
        <div className="half">
          <Plot
            caption={`Average stroke of ${second.file} over ${main.file}`}
            series={overlay}
            x={timeAxis}
            y={waveAxis}
          />
        </div>
        <Legend
          series={curve}
          note={
            energyNow
              ? `low end of the sum: ${signed(energyNow.before, 1)} dB as recorded, ${signed(energyNow.now, 1)} dB now`
              : ""
          }
        />
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
        {value && <BandSums spectra={value.spectra} setting={setting} />}
      </div>
      <aside className="settings">
        {proposals.map((p) => (
          <ProposalCard key={p.id} proposal={p} />
        ))}
        <section className="panel" onFocusCapture={() => useSong.getState().chooseProcessor(delayState.id)}>
          <header>
            <h3>Place in time</h3>
          </header>
          <div className="param">
            <label>Polarity</label>
            <ButtonGroup size="sm">
              {(["as recorded", "inverted"] as const).map((p) => (
                <Button
                  key={p}
                  variant={(p === "inverted") === inverted ? "primary" : "outline-secondary"}
                  aria-pressed={(p === "inverted") === inverted}
                  onClick={() => setPolarity({ polarity: p }, true)}
                >
                  {p}
                </Button>
              ))}
            </ButtonGroup>
          </div>
          <div className="param">
            <label>Delay</label>
            <TypedField
              spec={spec}
              value={delay}
              sampleRate={sampleRate}
              label="Delay: smp, ms or cm"
              onChange={(d) => setDelay({ delay: boundedDelay(d) }, true)}
            />
            <span className="also">
              {signed((1000 * delay) / sampleRate, 2)} ms, {signed(framesToCm(delay, sampleRate), 1)} cm
            </span>
          </div>
          <div className="nudges" role="group" aria-label="Nudge">
            {nudges.map(({ does, keys, frames }) => (
              <span key={does}>
                <Button
                  size="sm"
                  variant="outline-secondary"
                  disabled={second.locked}
                  aria-label={`${does} earlier`}
                  onClick={() => nudgeMic(-frames())}
                >
                  −
                </Button>
                <span title={`Keys: ${keys}`}>{does}</span>
                <Button
                  size="sm"
                  variant="outline-secondary"
                  disabled={second.locked}
                  aria-label={`${does} later`}
                  onClick={() => nudgeMic(frames())}
                >
                  +
                </Button>
              </span>
            ))}
          </div>
          <Form.Check
            type="switch"
            id={`lock-${second.id}`}
            label={second.locked ? "locked: no proposal or key moves it" : "lock what is right"}
            checked={second.locked}
            onChange={() => lockMic(second)}
          />
          <ChainWarning main={main} second={second} times={times} sampleRate={sampleRate} />
          <p className="hint">The field takes "57 smp", "1.2 ms" or "41 cm".</p>
        </section>
        <ProcessorPanel owner={second} state={rotationState} />
      </aside>
    </div>
  );
}
