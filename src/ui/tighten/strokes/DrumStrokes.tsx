"use client";
import { useState, type KeyboardEvent } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Mic, Piece } from "../../../core/song/song";
import { ChosenStroke } from "./ChosenStroke";
import { DetectionPanel } from "./DetectionPanel";
import { DoubtList } from "./DoubtList";
import { strokeActs } from "./strokeActs";
import { StrokeStack } from "./StrokeStack";
import { useDrumStrokes } from "./useDrumStrokes";

interface OrderProps {
  readonly byLevel: boolean;
  readonly set: (byLevel: boolean) => void;
}

function OrderChoice({ byLevel, set }: OrderProps) {
  return (
    <ButtonGroup size="sm" aria-label="Order of the strokes">
      <Button variant={byLevel ? "primary" : "outline-secondary"} onClick={() => set(true)}>
        Loudest first
      </Button>
      <Button variant={byLevel ? "outline-secondary" : "primary"} onClick={() => set(false)}>
        As played
      </Button>
    </ButtonGroup>
  );
}

/** Strokes of one drum: all at once, the doubtful ones, and each by itself. */
export function DrumStrokes({ piece, mic }: { piece: Piece; mic: Mic }) {
  const strokes = useDrumStrokes(piece, mic);
  const { events, sensitivity, setDraft, shown, doubts, pictured, stack } = strokes;
  /** Instant that is looked at, s. */
  const [pick, setPick] = useState<number | null>(null);
  const acts = strokeActs(piece, strokes, pick, setPick);
  const { chosen, choose } = acts;
  const color = piece.replace(/\d/, "");
  const keys = (event: KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement) return;
    const act = acts.keys[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  const count = (ghost: boolean) => shown.filter((h) => h.ghost === ghost).length;
  const ghosts = piece === "snare" ? `, ${count(true)} ghosts` : "";
  return (
    <div className="bench-columns" onKeyDown={keys} tabIndex={-1}>
      <div className="evidence strokes">
        <h2>
          {pieceNames[piece]}: {shown.length} strokes{" "}
          <small data-testid="stroke-counts">
            {`${count(false)} main${ghosts}, ${doubts.length} doubtful`}
          </small>
        </h2>
        <div className="row-buttons">
          <OrderChoice byLevel={strokes.byLevel} set={strokes.setByLevel} />
          <small className="quiet">↑ ↓ pass and hear · V ghost note or main · Delete drops</small>
        </div>
        {stack.value && stack.value.rows === pictured.length ? (
          <StrokeStack
            stack={stack.value}
            order={strokes.order}
            times={pictured}
            color={color}
            chosen={chosen ? pictured.indexOf(chosen.time) : -1}
            caption={`${shown.length} strokes of the ${pieceNames[piece]} stacked on their starts; click one to hear it`}
            onChoose={(row) => choose(pictured[row]!)}
          />
        ) : (
          <p className="hint">{stack.error ?? "Reading the strokes …"}</p>
        )}
        <ChosenStroke mic={mic} pick={pick} hits={shown} color={color} acts={acts} />
      </div>
      <aside className="settings">
        <DetectionPanel
          piece={piece}
          sensitivity={events ? sensitivity : null}
          draft={setDraft}
          add={acts.add}
        />
        <DoubtList doubts={doubts} chosen={pick} onChoose={(d) => choose(d.time)} onSettle={acts.settle} />
      </aside>
    </div>
  );
}
