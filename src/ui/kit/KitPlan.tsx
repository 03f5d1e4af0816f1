"use client";
import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { ArrowRepeat } from "react-bootstrap-icons";
import { isDecided } from "../../core/proposals/decided";
import type { Piece } from "../../core/song/song";
import { useSong } from "../shared/songStore";
import { useProposals } from "../shared/useProposals";
import { Distances, FarMics, type Seen } from "./FarMics";
import { useGlow } from "./glow";
import { planKit } from "./layout";
import { middle, turnPlan, useMoving } from "./moving";
import { PlanPiece } from "./PlanPiece";
import { PlanPieces } from "./PlanPieces";
import { PlanPlaces, placesHeight, useMeasuredPlaces } from "./PlanPlaces";

/** The kit from above: navigation, meter and status in one. */
export function KitPlan() {
  const song = useSong((s) => s.song!);
  const chosen = useSong((s) => s.piece);
  const proposals = useProposals(useSong((s) => s.step));
  const places = useMeasuredPlaces();
  const [audience, setAudience] = useState(false);
  const glow = useGlow();
  const { pieces, far } = planKit(song.mics, song.plan);
  const turn = audience ? -1 : 1;
  const svg = useRef<SVGSVGElement>(null);
  const moving = useMoving(svg, turn);
  const seen: Seen = (x, y) => [turn * x, -(middle + turn * (y - middle))];
  const openOf = (piece: Piece) =>
    proposals.filter((p) => {
      const mic = song.mics.find((m) => m.id === p.owner);
      return mic?.piece === piece && !isDecided(song, p);
    }).length;
  const spot = pieces.find((p) => p.piece === chosen)?.spot;
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
        {spot && chosen && <Distances far={far} piece={chosen} from={seen(spot.x, spot.y)} seen={seen} />}
        {pieces.map((planned) => (
          <PlanPiece
            key={planned.piece}
            planned={planned}
            transform={`translate(${seen(planned.spot.x, planned.spot.y).join(" ")})`}
            open={openOf(planned.piece)}
            glow={glow}
            moving={moving}
          />
        ))}
        <PlanPlaces places={places} turn={turn} />
        <FarMics far={far} glow={glow} seen={seen} />
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
