"use client";
import { useEffect, useRef } from "react";
import { create } from "zustand";
import { Button, Form } from "react-bootstrap";
import { steps, type Song, type Step } from "../../core/song/song";
import { processorType } from "../../core/processors";
import { pieceNames, signed } from "../shared/format";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { processorsOf, type Scope } from "./scopes";

interface CompareState {
  readonly scope: Scope;
  readonly without: boolean;
  readonly matched: boolean;
}
export const useCompare = create<CompareState>()(() => ({
  scope: "everything",
  without: false,
  matched: true,
}));

/** Changes sides at the same playhead. */
export const toggleCompare = (): void => useCompare.setState((s) => ({ without: !s.without }));

export const stepTitle = (step: Step): string => step.charAt(0).toUpperCase() + step.slice(1);

function idsOf(
  song: Song,
  scope: Scope,
  step: Step,
  piece: string | null,
  processor: string | null,
): string[] {
  if (scope === "processor") return processor ? [processor] : [];
  if (scope === "drum") return processorsOf(song, step, piece);
  if (scope === "step") return processorsOf(song, step, null);
  return [];
}

/** With and without, at the same playhead, always loudness-matched; says by how much. */
export function Compare() {
  const song = useSong((s) => s.song!);
  const step = useSong((s) => s.step);
  const piece = useSong((s) => s.piece);
  const processor = useSong((s) => s.processor);
  const { scope, without, matched } = useCompare();
  const asPlayed = usePlayback((s) => s.asPlayed);
  const figure = useRef<HTMLSpanElement>(null);
  const ids = idsOf(song, scope, step, piece, processor);
  const key = ids.join(" ");
  const timing = step === "tighten" && (scope === "step" || scope === "drum");

  useEffect(() => {
    const compared = key === "" ? [] : key.split(" ");
    playback.listen({ untreated: scope === "everything" && without, matched, compared, without });
    playback.watchProcessors([...new Set([...compared, ...(processor ? [processor] : [])])]);
    if (asPlayed !== (timing && without)) playback.setAsPlayed(timing && without);
  }, [key, scope, without, matched, processor, timing, asPlayed]);

  useEffect(
    () =>
      playback.subscribe((s) => {
        if (!figure.current) return;
        const compared = new Set(key.split(" "));
        const gains = s.processors.filter((p) => compared.has(p.id)).map((p) => p.matchDb);
        const db =
          scope === "everything"
            ? s.matchDb
            : gains.reduce((most, g) => (Math.abs(g) > Math.abs(most) ? g : most), 0);
        figure.current.textContent = !matched
          ? "not matched"
          : timing
            ? "same level"
            : `matched by ${signed(db, 1)} dB${gains.length > 1 ? " at most" : ""}`;
      }),
    [key, scope, matched, timing],
  );

  const owner = processor
    ? [...song.mics, ...song.buses].find((o) => o.chain.some((p) => p.id === processor))
    : null;
  const type = owner?.chain.find((p) => p.id === processor)?.type;
  const names: Record<Scope, string> = {
    processor: type ? `this ${processorType(type).label}` : "one processor",
    drum: `${stepTitle(step)} on ${piece ? pieceNames[piece as keyof typeof pieceNames] : "one drum"}`,
    step: `${stepTitle(step)}, whole kit`,
    everything: "everything",
  };
  const usable: Record<Scope, boolean> = {
    processor: processor !== null,
    drum: piece !== null && steps.indexOf(step) < 5,
    step: true,
    everything: true,
  };
  return (
    <div className="compare" role="group" aria-label="Compare">
      <Form.Select
        size="sm"
        aria-label="What is compared"
        value={scope}
        onChange={(event) => useCompare.setState({ scope: event.target.value as Scope })}
      >
        {(Object.keys(names) as Scope[]).map((s) => (
          <option key={s} value={s} disabled={!usable[s]}>
            {names[s]}
          </option>
        ))}
      </Form.Select>
      <Button
        size="sm"
        className="sides"
        variant={without ? "warning" : "outline-primary"}
        aria-pressed={without}
        title="With or without (C)"
        onClick={toggleCompare}
      >
        <b className={without ? "" : "now"}>with</b> <b className={without ? "now" : ""}>without</b>
      </Button>
      <label className="match">
        <input
          type="checkbox"
          checked={matched}
          onChange={(event) => useCompare.setState({ matched: event.target.checked })}
        />
        <span ref={figure} data-testid="match">
          {matched ? "matched" : "not matched"}
        </span>
      </label>
    </div>
  );
}
