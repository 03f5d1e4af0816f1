import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { NumberParam } from "../../../core/params";
import { processorType } from "../../../core/processors";
import { processorOf } from "../../../core/song/create";
import type { Mic } from "../../../core/song/song";
import { framesToCm, signed } from "../../shared/format";
import { TypedField } from "../../shared/ParamField";
import { useParams } from "../../shared/ProcessorPanel";
import { useSong } from "../../shared/songStore";
import { ChainWarning } from "../ChainWarning";
import { boundedDelay, delayOf, isInverted, lockMic, nudgeMic, nudges } from "../moves";

const spec = processorType("delay").params["delay"] as NumberParam;

/** Moves by a fixed way, with their keys. */
function Nudges({ locked }: { locked: boolean }) {
  return (
    <div className="nudges" role="group" aria-label="Nudge">
      {nudges.map(({ does, keys, frames }) => (
        <span key={does}>
          <Button
            size="sm"
            variant="outline-secondary"
            disabled={locked}
            aria-label={`${does} earlier`}
            onClick={() => nudgeMic(-frames())}
          >
            −
          </Button>
          <span title={`Keys: ${keys}`}>{does}</span>
          <Button
            size="sm"
            variant="outline-secondary"
            disabled={locked}
            aria-label={`${does} later`}
            onClick={() => nudgeMic(frames())}
          >
            +
          </Button>
        </span>
      ))}
    </div>
  );
}

interface Props {
  readonly main: Mic;
  readonly second: Mic;
  /** Strokes of the drum, s. */
  readonly times: readonly number[];
  readonly sampleRate: number;
}

/** Polarity and delay of a second mic, typed, nudged or locked. */
export function PlacePanel({ main, second, times, sampleRate }: Props) {
  const delayState = processorOf(second, "delay");
  const setDelay = useParams(second, delayState, true);
  const setPolarity = useParams(second, processorOf(second, "polarity"), true);
  const delay = delayOf(second);
  const inverted = isInverted(second);
  return (
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
      <Nudges locked={second.locked} />
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
  );
}
