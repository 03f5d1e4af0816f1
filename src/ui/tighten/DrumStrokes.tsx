"use client";
import { useMemo, useState } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { recordedTime } from "../../core/engine/timeline";
import { correctHits, doubtsOf, strokeOf, type Doubt } from "../../core/hits/corrections";
import { decideHits } from "../../core/hits/decideHits";
import { hitExcess } from "../../core/hits/evidence";
import { number } from "../../core/params";
import type { Hit, Mic, Piece } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { ParamField } from "../shared/ParamField";
import { hear } from "../shared/hear";
import { playback } from "../shared/playback";
import { useEvidence } from "../shared/evidenceClient";
import { useSong } from "../shared/songStore";
import { DoubtList } from "./DoubtList";
import { changePlaying, correctStroke, redetected } from "./playingChange";
import { ghostLabel, StrokeFacts } from "./StrokeFacts";
import { StrokeStack } from "./StrokeStack";
import { StrokeWave } from "./StrokeWave";

const sensitivitySpec = number(
  "Sensitivity",
  "dB",
  -20,
  20,
  0,
  "How much less likely than usual an event may be to count as a stroke: 10 dB are ten times the odds.",
);
/** Stretch of a stroke that is heard when it is passed, s before and after its start. */
const heardBefore = 0.15;
const heardAfter = 0.35;

/** Strokes of one drum: all at once, the doubtful ones, and each by itself. */
export function DrumStrokes({ piece, mic }: { piece: Piece; mic: Mic }) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const { sampleRate, detection } = song;
  const [draft, setDraft] = useState<number | null>(null);
  const [byLevel, setByLevel] = useState(true);
  /** Instant that is looked at, s. */
  const [pick, setPick] = useState<number | null>(null);
  const events = facts.events[piece];
  const sensitivity = draft ?? detection.sensitivity[piece] ?? 0;
  const shown = useMemo(
    () =>
      (draft !== null && events
        ? correctHits(decideHits(events, draft), detection.corrections)
        : song.hits
      ).filter((h) => h.piece === piece),
    [draft, events, song.hits, detection.corrections, piece],
  );
  const doubts = useMemo(
    () => (events ? doubtsOf(events, hitExcess(piece) - sensitivity, shown, detection.corrections) : []),
    [events, piece, sensitivity, shown, detection.corrections],
  );
  const late = mic.lateBy / sampleRate;
  // The pictures are made of every event, so that a move of the sensitivity only chooses among them.
  const pictured = useMemo(() => {
    const all = new Set([...shown.map((h) => h.time), ...(events?.events.map((e) => e.time) ?? [])]);
    return [...all].sort((a, b) => a - b);
  }, [shown, events]);
  const mark = pictured.reduce((sum, t) => (31 * sum + Math.round(t * sampleRate)) | 0, 0);
  const stack = useEvidence("stack", `${mic.audio} ${mic.start} ${pictured.length} ${mark}`, {
    mic: { audio: mic.audio!, start: mic.start },
    times: pictured.map((t) => t + late),
    sampleRate,
  });
  const sorted = useMemo(
    () => (byLevel ? [...shown].sort((x, y) => y.levelDb - x.levelDb) : shown),
    [shown, byLevel],
  );
  const order = useMemo(() => {
    const rows = new Map(pictured.map((t, i) => [t, i]));
    return sorted.flatMap((h) => rows.get(h.time) ?? []);
  }, [pictured, sorted]);
  const chosen = shown.find((h) => h.time === pick) ?? null;
  const counts = (ghost: boolean) => shown.filter((h) => h.ghost === ghost).length;
  const color = piece.replace(/\d/, "");
  const name = pieceNames[piece].toLowerCase();

  const choose = (time: number) => {
    setPick(time);
    hear(time, heardBefore, heardAfter);
  };
  const step = (by: 1 | -1) => {
    const at = sorted.findIndex((h) => h.time === pick);
    const next = sorted[Math.max(0, Math.min(sorted.length - 1, at + by))];
    if (next) choose(next.time);
  };
  const change = (hit: Hit, more: Partial<Hit>, label: string) => {
    correctStroke(label, { type: "change", piece, time: hit.time, hit: { ...hit, ...more, sure: 1 } });
    if (more.time !== undefined) setPick(more.time);
  };
  const drop = (hit: Hit) => {
    step(1);
    correctStroke(`Drop a stroke of the ${name}`, {
      type: "drop",
      piece,
      time: hit.time,
    });
  };
  const add = (time: number) => {
    const near = shown.reduce<Hit | null>((best, h) => (!best || Math.abs(h.time - time) < Math.abs(best.time - time) ? h : best), null); // prettier-ignore
    const hit: Hit = {
      piece,
      time,
      levelDb: near?.levelDb ?? -12,
      ghost: near?.ghost ?? false,
      kind: "stroke",
      sure: 1,
    };
    correctStroke(`Add a stroke of the ${name}`, { type: "add", hit });
    setPick(time);
  };
  const settle = (doubt: Doubt, take: boolean) => {
    correctStroke(
      `${take ? "Accept" : "Drop"} a doubtful stroke of the ${name}`,
      take ? { type: "add", hit: strokeOf(doubt, shown) } : { type: "drop", piece, time: doubt.time },
    );
    const next = doubts[doubts.indexOf(doubt) + 1];
    if (next) choose(next.time);
  };
  const keys = (event: React.KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement) return;
    const doubt = doubts.find((d) => d.time === pick);
    const acts: Record<string, (() => void) | undefined> = {
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
      Delete: chosen ? () => drop(chosen) : undefined,
      Enter: doubt ? () => settle(doubt, true) : undefined,
      Backspace: doubt ? () => settle(doubt, false) : undefined,
      v: chosen ? () => change(chosen, { ghost: !chosen.ghost }, ghostLabel(chosen)) : undefined, // prettier-ignore
    };
    const act = acts[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };

  return (
    <div className="bench-columns" onKeyDown={keys} tabIndex={-1}>
      <div className="evidence strokes">
        <h2>
          {pieceNames[piece]}: {shown.length} strokes{" "}
          <small data-testid="stroke-counts">
            {counts(false)} main{piece === "snare" ? `, ${counts(true)} ghosts` : ""}, {doubts.length}{" "}
            doubtful
          </small>
        </h2>
        <div className="row-buttons">
          <ButtonGroup size="sm" aria-label="Order of the strokes">
            <Button variant={byLevel ? "primary" : "outline-secondary"} onClick={() => setByLevel(true)}>
              Loudest first
            </Button>
            <Button variant={byLevel ? "outline-secondary" : "primary"} onClick={() => setByLevel(false)}>
              As played
            </Button>
          </ButtonGroup>
          <small className="quiet">↑ ↓ pass and hear · V ghost note or main · Delete drops</small>
        </div>
        {stack.value && stack.value.rows === pictured.length ? (
          <StrokeStack
            stack={stack.value}
            order={order}
            times={pictured}
            color={color}
            chosen={chosen ? pictured.indexOf(chosen.time) : -1}
            caption={`${shown.length} strokes of the ${pieceNames[piece]} stacked on their starts; click one to hear it`}
            onChoose={(row) => choose(pictured[row]!)}
          />
        ) : (
          <p className="hint">{stack.error ?? "Reading the strokes …"}</p>
        )}
        {pick !== null ? (
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
              hits={shown}
              color={color}
              sampleRate={sampleRate}
              onMove={(to) => chosen && change(chosen, { time: to }, "Move the start of a stroke")}
              onAdd={add}
            />
          </>
        ) : (
          <p className="hint">Click a stroke to hear it, move its start or call it something else.</p>
        )}
      </div>
      <aside className="settings">
        <section className="panel">
          <header>
            <h3>Detection</h3>
          </header>
          {events ? (
            <ParamField
              spec={sensitivitySpec}
              value={sensitivity}
              sampleRate={sampleRate}
              onChange={(v, done) => {
                setDraft(done ? null : Number(v));
                if (done)
                  changePlaying(
                    `Sensitivity of the ${name} ${Number(v) >= 0 ? "+" : "−"}${Math.abs(Number(v)).toFixed(1)} dB`,
                    redetected({
                      ...detection,
                      sensitivity: { ...detection.sensitivity, [piece]: Number(v) },
                    }),
                  );
              }}
            />
          ) : (
            <p className="hint">Heard in the overheads only: correct these strokes by hand.</p>
          )}
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => add(recordedTime(song.edits, playback.position / sampleRate, sampleRate))}
          >
            Add a stroke at the playhead
          </Button>
        </section>
        <DoubtList doubts={doubts} chosen={pick} onChoose={(d) => choose(d.time)} onSettle={settle} />
      </aside>
    </div>
  );
}
