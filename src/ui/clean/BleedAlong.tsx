"use client";
import { worthAWarning, type BleedStage } from "../../core/clean/bleedLift";
import { processorType } from "../../core/processors";
import type { Mic } from "../../core/song/song";
import { signed } from "../shared/format";

/** What every processor of a mic does to its bleed against its strokes; a warning where one lifts it far. */
export function BleedAlong({ mic, value }: { mic: Mic; value: readonly BleedStage[] | null }) {
  if (!value) return null;
  return (
    <section className="panel bleed-along" aria-label={`Bleed along the chain of ${mic.file}`}>
      <header>
        <h3>Bleed under the strokes</h3>
      </header>
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
      {value.some((s, i) => i > 0 && s.bleedToHit - value[i - 1]!.bleedToHit > worthAWarning) && (
        <p className="warn">
          A processor lifts the bleed by more than {worthAWarning} dB against the strokes.
        </p>
      )}
    </section>
  );
}
