"use client";
import { Form } from "react-bootstrap";
import type { Section, Tempo } from "../../core/song/song";
import { meterAt, meterName, meters } from "./meters";

/** Meter of a section that has another one. */
export function SectionMeters({
  tempo,
  sections,
  take,
}: {
  tempo: Tempo;
  sections: readonly Section[];
  take: (next: Tempo, label: string) => void;
}) {
  if (sections.length === 0) return <p className="hint">Mark sections to give them meters of their own.</p>;
  /** Changes at the section's first bar and back behind it. */
  const set = (section: Section, name: string) => {
    const at = (t: number) =>
      tempo.beats.reduce((best, b, i) => (Math.abs(b - t) < Math.abs(tempo.beats[best]! - t) ? i : best), 0);
    const [first, end] = [at(section.from), at(section.to)];
    const after = meterAt(tempo, section.to + 0.01);
    const kept = tempo.meters.filter((m) => m.beat < first || m.beat > end);
    const changes = [
      { beat: first, ...meters[name]! },
      ...(end < tempo.beats.length - 1
        ? [{ beat: end, beatsPerBar: after.beatsPerBar, compound: after.compound }]
        : []),
    ];
    const next = [...kept, ...changes].sort((a, b) => a.beat - b.beat);
    take({ ...tempo, meters: next }, `${section.name} in ${name}`);
  };
  return (
    <>
      {sections.map((s) => (
        <div className="param" key={s.id}>
          <label htmlFor={`meter-${s.id}`}>{s.name}</label>
          <Form.Select
            id={`meter-${s.id}`}
            size="sm"
            value={meterName(meterAt(tempo, s.from + 0.05))}
            onChange={(e) => set(s, e.target.value)}
          >
            {Object.keys(meters).map((m) => (
              <option key={m}>{m}</option>
            ))}
          </Form.Select>
        </div>
      ))}
    </>
  );
}
