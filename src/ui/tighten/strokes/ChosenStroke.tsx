import type { Hit, Mic } from "../../../core/song/song";
import { useSong } from "../../shared/songStore";
import type { StrokeActs } from "./strokeActs";
import { StrokeFacts } from "./StrokeFacts";
import { StrokeWave } from "./StrokeWave";

interface Props {
  readonly mic: Mic;
  /** Instant that is looked at, s; null: none. */
  readonly pick: number | null;
  readonly hits: readonly Hit[];
  readonly color: string;
  readonly acts: StrokeActs;
}

/** The stroke that is looked at: what it is, and where it begins. */
export function ChosenStroke({ mic, pick, hits, color, acts: { chosen, change, drop, add } }: Props) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  if (pick === null)
    return <p className="hint">Click a stroke to hear it, move its start or call it something else.</p>;
  return (
    <>
      <StrokeFacts
        time={pick}
        hit={chosen}
        onChange={(more, label) => chosen && change(chosen, more, label)}
        onDrop={() => chosen && drop(chosen)}
      />
      <StrokeWave
        mic={mic}
        time={pick}
        hits={hits}
        color={color}
        sampleRate={sampleRate}
        onMove={(to) => chosen && change(chosen, { time: to }, "Move the start of a stroke")}
        onAdd={add}
      />
    </>
  );
}
