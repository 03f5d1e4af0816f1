"use client";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { Button } from "react-bootstrap";
import { ArrowRepeat } from "react-bootstrap-icons";
import { isDecided } from "../../core/proposals/decided";
import type { Piece } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { framesToCm, shortName } from "../shared/format";
import { atMostEvery, setStyle } from "../shared/draw";
import { playback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { useProposals } from "../shared/useProposals";
import { labelMics, micDrag } from "../gather/labelMics";
import { PlanPieces } from "./PlanPieces";
import { PlanPlaces, placesHeight, useMeasuredPlaces } from "./PlanPlaces";
import { planKit, type PlannedPiece } from "./layout";
import { middle, turnPlan, useMoving } from "./moving";

/** Peak at which a piece glows fully, and below which it does not, dBFS. */
const glowRange = [-50, -6] as const;

/** Letters of a far mic's name that the plan has room for: of a longer one its end, where names differ. */
const roomFor = 12;
const planName = (file: string): string => {
  const name = shortName(file);
  return name.length <= roomFor ? name : `…${name.slice(1 - roomFor)}`;
};

const petals = (r: number): string =>
  Array.from({ length: 12 }, (_, k) => {
    const a = (k * Math.PI) / 6;
    const rr = k % 2 === 0 ? r : r * 0.86;
    return `${(rr * Math.cos(a)).toFixed(1)},${(rr * Math.sin(a)).toFixed(1)}`;
  }).join(" ");

/** Outline of a piece by its kind: barrel, shell with wires or lugs, floor tom on legs, cymbals. */
function Outline({ planned: { piece, spot }, className }: { planned: PlannedPiece; className: string }) {
  const { r, shape } = spot;
  switch (shape) {
    case "barrel":
      return <rect className={className} x={-r} y={-r * 0.82} width={2 * r} height={1.64 * r} rx={9} />;
    case "cymbal":
      return <polygon className={className} points={petals(r)} />;
    case "floor":
      return <rect className={className} x={-r} y={-r} width={2 * r} height={2 * r} rx={r * 0.62} />;
    case "pair":
      return (
        <g>
          <circle className={className} r={r} />
          <circle className="detail" r={r * 0.72} cx={3} cy={-3} />
        </g>
      );
    default:
      return (
        <g>
          <circle className={className} r={r} />
          {piece === "snare" && <path className="detail" d={`M${-r + 3} 8H${r - 3}M${-r + 5} 11H${r - 5}`} />}
        </g>
      );
  }
}

/** The kit from above: navigation, meter and status in one. */
export function KitPlan() {
  const song = useSong((s) => s.song!);
  const chosen = useSong((s) => s.piece);
  const step = useSong((s) => s.step);
  const facts = useSong((s) => s.facts);
  const proposals = useProposals(step);
  const places = useMeasuredPlaces();
  const [audience, setAudience] = useState(false);
  const glows = useRef(new Map<string, SVGGElement>());
  const { pieces, far } = planKit(song.mics, song.plan);
  const { choosePiece, chooseMic } = useSong.getState();

  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(60, ({ peaks }) => {
          const loudest = new Map<string, number>();
          useSong.getState().song?.mics.forEach((m, i) => {
            const key = m.piece === "overhead" || m.piece === "room" ? m.id : m.piece;
            loudest.set(key, Math.max(loudest.get(key) ?? 0, peaks[i] ?? 0));
          });
          for (const [key, element] of glows.current) {
            const db = 20 * Math.log10(Math.max(1e-5, loudest.get(key) ?? 0));
            const share = (db - glowRange[0]) / (glowRange[1] - glowRange[0]);
            setStyle(element, "opacity", Math.min(1, Math.max(0, share)).toFixed(1));
          }
        }),
      ),
    [],
  );

  const turn = audience ? -1 : 1;
  const svg = useRef<SVGSVGElement>(null);
  const moving = useMoving(svg, turn);
  const at = (x: number, y: number) => `translate(${turn * x} ${-(middle + turn * (y - middle))})`;
  const openOf = (piece: Piece) =>
    proposals.filter((p) => {
      const mic = song.mics.find((m) => m.id === p.owner);
      return mic?.piece === piece && !isDecided(song, p);
    }).length;
  const onKey = (event: KeyboardEvent, act: () => void) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  const glow = (key: string) => (element: SVGGElement | null) => {
    if (element) glows.current.set(key, element);
    else glows.current.delete(key);
  };
  const chosenSpot = pieces.find((p) => p.piece === chosen)?.spot;

  return (
    <section className="kit-plan" aria-label="Kit plan">
      <svg
        ref={svg}
        viewBox={`-118 -168 236 ${224 + placesHeight(places.length)}`}
        role="group"
        onPointerMove={(event) => moving.move(event)}
        onPointerUp={(event) => moving.end(event)}
        onPointerCancel={(event) => moving.end(event)}
      >
        {chosenSpot &&
          far.map(({ mic, x, y }) => {
            const arrival = facts.arrivals[mic.id]?.find((a) => a.piece === chosen && a.confidence > 0.15);
            if (!arrival) return null;
            const [x1, y1] = [turn * chosenSpot.x, -(middle + turn * (chosenSpot.y - middle))];
            const [x2, y2] = [turn * x, -(middle + turn * (y - middle))];
            return (
              <g key={mic.id} className="distance">
                <line x1={x1} y1={y1} x2={x2} y2={y2} />
                <text x={x2} y={y2 - 9} textAnchor="middle">
                  {(framesToCm(arrival.delaySamples, song.sampleRate) / 100).toFixed(2)} m
                </text>
              </g>
            );
          })}
        {pieces.map((planned) => {
          const { piece, spot, mics, layers } = planned;
          const open = openOf(piece);
          const idle = layers === 0 && mics.every((m) => m.unplayed || m.silent);
          const added = mics.length + layers === 0; // a place to drop a file onto
          return (
            <g
              key={piece}
              transform={at(spot.x, spot.y)}
              className={`piece ${chosen === piece ? "chosen" : ""} ${idle ? "idle" : ""}`}
              style={{ "--piece": `var(--${piece.replace(/\d/, "")})` } as React.CSSProperties}
              role={added ? "img" : "button"}
              tabIndex={added ? -1 : 0}
              aria-pressed={added ? undefined : chosen === piece}
              aria-label={`${pieceNames[piece]}, ${mics.length} mic${mics.length > 1 ? "s" : ""}${layers > 0 ? `, ${layers} layer${layers > 1 ? "s" : ""}` : ""}${idle && !added ? ", never played" : ""}${open ? `, ${open} to decide` : ""}`}
              onClick={() => !added && !moving.moved() && choosePiece(chosen === piece ? null : piece)}
              onKeyDown={(event) => onKey(event, () => !added && choosePiece(piece))}
              onPointerDown={(event) => moving.begin(event, piece, spot)}
              onDragOver={(event) => event.dataTransfer.types.includes(micDrag) && event.preventDefault()}
              onDrop={(event) => labelMics([event.dataTransfer.getData(micDrag)], { piece })}
            >
              <Outline planned={planned} className="body" />
              <g ref={glow(piece)} style={{ opacity: 0 }} aria-hidden>
                <Outline planned={planned} className="glow" />
              </g>
              <text
                className="name"
                textAnchor="middle"
                y={spot.shape === "drum" && piece === "snare" ? 2 : 4}
              >
                {pieceNames[piece].replace("Floor tom", "Floor")}
              </text>
              {mics.map((m, k) => (
                <path
                  key={m.id}
                  className="mic"
                  d="M-3.2 0L3.2 0L0 5.5Z"
                  transform={`translate(${(k - (mics.length - 1) / 2) * 9} ${-spot.r * (spot.shape === "barrel" ? 0.82 : 1) - 6})`}
                />
              ))}
              {Array.from({ length: layers }, (_, k) => (
                <rect
                  key={k}
                  className="mic"
                  x={(k - (layers - 1) / 2) * 10 - 4}
                  y={spot.r * (spot.shape === "barrel" ? 0.82 : 1) + 3}
                  width={8}
                  height={2.5}
                />
              ))}
              {open > 0 && (
                <g
                  transform={`translate(${spot.r * 0.8} ${-spot.r * 0.8})`}
                  className="badge-open"
                  aria-hidden
                >
                  <rect x={-7} y={-7} width={14} height={14} rx={5} />
                  <text textAnchor="middle" y={3.8}>
                    {open}
                  </text>
                </g>
              )}
            </g>
          );
        })}
        <PlanPlaces places={places} turn={turn} />
        {far.map(({ mic, x, y }) => (
          <g
            key={mic.id}
            transform={at(x, y)}
            className={`far ${chosen === mic.piece ? "chosen" : ""}`}
            role="button"
            tabIndex={0}
            aria-label={`${shortName(mic.file)}, ${pieceNames[mic.piece]} ${mic.place}`}
            onClick={() => chooseMic(mic.id)}
            onKeyDown={(event) => onKey(event, () => chooseMic(mic.id))}
          >
            <path className="body" d="M-8 -5L8 -5L0 8Z" />
            <g ref={glow(mic.id)} style={{ opacity: 0 }} aria-hidden>
              <path className="glow" d="M-8 -5L8 -5L0 8Z" />
            </g>
            <text className="name" textAnchor="middle" y={18}>
              {planName(mic.file)}
            </text>
          </g>
        ))}
      </svg>
      <div className="turn">
        <PlanPieces />
        <Button
          variant="link"
          size="sm"
          aria-pressed={song.plan.mirrored}
          title="Shift and drag moves a piece"
          onClick={turnPlan}
        >
          {song.plan.mirrored ? "left-handed" : "right-handed"}
        </Button>
        <Button variant="link" size="sm" onClick={() => setAudience(!audience)}>
          <ArrowRepeat aria-hidden /> {audience ? "seen from the audience" : "seen from the stool"}
        </Button>
      </div>
    </section>
  );
}
