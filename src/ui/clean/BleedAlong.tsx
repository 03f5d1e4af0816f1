"use client";
import { useMemo } from "react";
import { worthAWarning } from "../../core/clean/bleedLift";
import { bleedTimes } from "../../core/clean/spectra";
import { processorType } from "../../core/processors";
import type { Mic } from "../../core/song/song";
import { useEvidence } from "../shared/evidenceClient";
import { signed } from "../shared/format";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../shared/useMic";

/** What every processor of a mic does to its bleed against its strokes; a warning where one lifts it far. */
export function BleedAlong({ mic }: { mic: Mic }) {
  const hits = useSong((s) => s.song!.hits);
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const strokes = useMemo(() => strokesIn(hits, mic, sampleRate), [hits, mic, sampleRate]);
  const bleed = useMemo(
    () => bleedTimes(hits, mic.piece).map((t) => t * sampleRate + mic.lateBy),
    [hits, mic.piece, mic.lateBy, sampleRate],
  );
  const { value, busy } = useEvidence("bleed", `${mic.audio} ${hits.length} ${JSON.stringify(mic.chain)}`, {
    mic: { audio: mic.audio!, start: mic.start },
    chain: mic.chain,
    strokes: strokes.mains,
    hits: strokes.all,
    bleed,
    sampleRate,
  });
  if (!value && !busy) return null;
  return (
    <section className="panel bleed-along" aria-label={`Bleed along the chain of ${mic.file}`}>
      <header>
        <h3>Bleed under the strokes</h3>
      </header>
      {value ? (
        <dl>
          {value.map(({ processor, bleedToHit }, i) => {
            const lift = i > 0 ? bleedToHit - value[i - 1]!.bleedToHit : 0;
            const type = mic.chain.find((p) => p.id === processor)?.type;
            return (
              <div key={processor ?? "raw"} className={lift > worthAWarning ? "warn" : ""}>
                <dt>{type ? processorType(type).label : "As recorded"}</dt>
                <dd>
                  {bleedToHit.toFixed(1).replace("-", "−")} dB
                  {i > 0 && <small> {signed(lift, 1)}</small>}
                </dd>
              </div>
            );
          })}
        </dl>
      ) : (
        <p className="hint">measuring …</p>
      )}
      {value?.some((s, i) => i > 0 && s.bleedToHit - value[i - 1]!.bleedToHit > worthAWarning) && (
        <p className="warn">
          A processor lifts the bleed by more than {worthAWarning} dB against the strokes.
        </p>
      )}
    </section>
  );
}
