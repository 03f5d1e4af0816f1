"use client";
import { Button, ButtonGroup } from "react-bootstrap";
import { changeFlavour } from "../../core/proposals/changeFlavour";
import { pieceNames } from "../../core/song/pieceNames";
import { flavourOf, flavours, type Flavour, type Piece } from "../../core/song/song";
import { useSong } from "../shared/songStore";

/** What each flavour does, in a few words. */
const does: Readonly<Record<Flavour, string>> = {
  modern: "Mids out, lows and stick up, firm",
  vintage: "Mids kept, rounder and softer",
  natural: "Little of everything",
};

/** How the kit, or one drum of it, shall sound; what was taken of the proposals goes along. */
export function FlavourChoice({ piece }: { piece: Piece | null }) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const now = piece === null ? song.shaping.flavour : flavourOf(song.shaping, piece);
  const own = piece !== null && song.shaping.byPiece[piece] !== undefined;
  const name = piece === null ? "the kit" : pieceNames[piece];
  const differ = piece === null ? Object.keys(song.shaping.byPiece).length : 0;
  const choose = (flavour: Flavour) =>
    useSong.getState().change(`Flavour of ${name}: ${flavour}`, changeFlavour(song, facts, piece, flavour));
  return (
    <div className="flavour">
      <span className="quiet">Flavour of {name}</span>
      <ButtonGroup size="sm" aria-label={`Flavour of ${name}`}>
        {flavours.map((f) => (
          <Button
            key={f}
            variant="outline-primary"
            active={f === now}
            aria-pressed={f === now}
            title={does[f]}
            onClick={() => choose(f)}
          >
            {f}
          </Button>
        ))}
      </ButtonGroup>
      <span className="quiet">
        {own
          ? `the kit is ${song.shaping.flavour}`
          : differ > 0
            ? `${differ} drums differ; a press changes all`
            : does[now]}
      </span>
    </div>
  );
}
