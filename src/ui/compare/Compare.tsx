"use client";
import { useEffect, useMemo, useRef } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import { QuestionDiamond } from "react-bootstrap-icons";
import type { Side } from "../../core/listen/listening";
import { asProposed } from "../../core/proposals/asProposed";
import { steps, type Song, type Step } from "../../core/song/song";
import { ownerOf } from "../../core/song/graph";
import { processorType } from "../../core/processors";
import { atMostEvery, setText } from "../shared/draw";
import { pieceNames } from "../../core/song/pieceNames";
import { signed } from "../shared/format";
import { ownerName } from "../shared/ProcessorPanel";
import { playback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { BlindPanel } from "./BlindPanel";
import { EarlierState, FlavourSide, Record } from "./otherSides";
import { startBlind, useCompare } from "./compareStore";
import { comparisonOf, scopes, type Bench, type Scope } from "./scopes";

export const stepTitle = (step: Step): string => step.charAt(0).toUpperCase() + step.slice(1);

/** Name of every scope for what is on the bench; null: it cannot be compared now. */
function scopeNames(song: Song, bench: Bench, analysed: boolean): Record<Scope, string | null> {
  const { step, piece, mic, bus, processor } = bench;
  const owner = [...song.mics, ...song.buses].find((o) => o.chain.some((p) => p.id === processor));
  const type = owner?.chain.find((p) => p.id === processor)?.type;
  const chained = owner ?? ownerOf(song, bus ?? mic);
  const drum = piece ? pieceNames[piece as keyof typeof pieceNames] : null;
  return {
    processor: type ? `this ${processorType(type).label}` : null,
    chain: chained ? `chain of ${ownerName(chained)}` : null,
    drum: drum && steps.indexOf(step) < 5 ? `${stepTitle(step)} on ${drum}` : null,
    step: `${stepTitle(step)}, whole kit`,
    parallel: "parallel paths",
    everything: "everything",
    version: "an earlier state …",
    flavour: analysed ? `${drum ?? "the kit"} as proposed …` : null,
    reference: song.referenceRecord || song.mics.some((m) => m.piece === "context") ? "a record …" : null,
  };
}
const emptyNames: Partial<Record<Scope, string>> = {
  processor: "one processor",
  chain: "one chain",
  drum: "one drum",
  flavour: "as proposed",
  reference: "a record (none came in)",
};

/** What the two sides are called. */
const sideNames = (scope: Scope): [string, string] =>
  scope === "version"
    ? ["now", "then"]
    : scope === "flavour"
      ? ["now", "proposed"]
      : scope === "reference"
        ? ["kit", "record"]
        : ["with", "without"];

/** What is compared with what, as it stands on the bench; the player is told of it. */
function useComparison() {
  const song = useSong((s) => s.song!);
  const step = useSong((s) => s.step);
  const piece = useSong((s) => s.piece);
  const mic = useSong((s) => s.mic);
  const bus = useSong((s) => s.bus);
  const processor = useSong((s) => s.processor);
  const analysed = useSong((s) => s.analysed);
  const facts = useSong((s) => s.facts);
  const { scope, side, matched, version, flavour } = useCompare();
  const bench = useMemo(() => ({ step, piece, mic, bus, processor }), [step, piece, mic, bus, processor]);
  const proposed = useMemo(
    () => (scope === "flavour" && analysed ? asProposed(song, facts, piece, flavour) : null),
    [scope, analysed, song, facts, piece, flavour],
  );
  const other = scope === "flavour" ? proposed : (version?.song ?? null);
  const comparison = comparisonOf(song, scope, bench, other);
  // Processors are compared by their ids: a song that changed elsewhere asks for no new comparison.
  const key = comparison.kind === "processors" ? comparison.ids.join(" ") : comparison.kind;
  const latest = useRef(comparison);
  useEffect(() => {
    latest.current = comparison;
  });
  useEffect(() => {
    playback.compare(latest.current, side, matched);
  }, [key, other, side, matched]);
  useEffect(() => {
    playback.watchProcessors(processor ? [processor] : []);
  }, [processor]);
  return { key, nothing: comparison.kind === "nothing", names: scopeNames(song, bench, analysed) };
}

/** Whether both sides are as loud, and by how much the other is moved for it, as it is heard. */
function Match({ about, nothing }: { about: string; nothing: boolean }) {
  const matched = useCompare((s) => s.matched);
  const figure = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const text = (db: number, measured: boolean) =>
      nothing
        ? "nothing to compare"
        : !matched
          ? "not matched"
          : measured
            ? `matched by ${signed(db, 1)} dB`
            : "matches while it plays";
    setText(figure.current, text(0, false));
    return playback.subscribe(atMostEvery(100, (s) => setText(figure.current, text(s.matchDb, s.measured))));
  }, [about, matched, nothing]);
  return (
    <label className="match">
      <input
        type="checkbox"
        aria-label="Match loudness"
        checked={matched}
        onChange={(event) => useCompare.setState({ matched: event.target.checked })}
      />
      <span ref={figure} data-testid="match">
        matches while it plays
      </span>
    </label>
  );
}

/** The sides, by their names or shuffled. */
function SideButtons({ nothing }: { nothing: boolean }) {
  const { scope, side, blind } = useCompare();
  const [here, there] = sideNames(scope);
  if (blind) return <BlindPanel names={[here, there]} />;
  const sides: readonly (readonly [Side, string, string])[] = [
    ["with", here, "Change sides (C)"],
    ["without", there, "Change sides (C)"],
    ["difference", "difference", "Only what it takes away or adds (D)"],
  ];
  return (
    <>
      <ButtonGroup size="sm" className="sides">
        {sides.map(([value, label, title]) => (
          <Button
            key={value}
            variant={side === value ? "primary" : "outline-primary"}
            aria-pressed={side === value}
            title={title}
            disabled={nothing}
            onClick={() => useCompare.setState({ side: value })}
          >
            {label}
          </Button>
        ))}
      </ButtonGroup>
      <Button
        size="sm"
        variant="outline-secondary"
        aria-label="Compare blind"
        title="Compare blind: the sides are shuffled and lose their names"
        disabled={nothing}
        onClick={startBlind}
      >
        <QuestionDiamond aria-hidden />
      </Button>
    </>
  );
}

/** With, without, or only the difference, at the same playhead; always loudness-matched, and says by how much. */
export function Compare() {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const scope = useCompare((s) => s.scope);
  const { key, nothing, names } = useComparison();
  return (
    <div className="compare" role="group" aria-label="Compare">
      <Form.Select
        size="sm"
        aria-label="What is compared"
        value={scope}
        onChange={(event) => {
          event.target.blur(); // the keys are the page's again
          useCompare.setState({ scope: event.target.value as Scope, side: "with", blind: null });
        }}
      >
        {scopes.map((s) => (
          <option key={s} value={s} disabled={names[s] === null}>
            {names[s] ?? emptyNames[s]}
          </option>
        ))}
      </Form.Select>
      {scope === "version" && <EarlierState id={id} />}
      {scope === "flavour" && <FlavourSide />}
      {scope === "reference" && <Record song={song} />}
      <SideButtons nothing={nothing} />
      <Match about={key} nothing={nothing} />
    </div>
  );
}
