"use client";
import { Button } from "react-bootstrap";
import { labelQuestions } from "../../core/gather/labelQuestions";
import type { Mic } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { placeNames, shortName } from "../shared/format";
import { hearAlone } from "../shared/hear";
import { useSong } from "../shared/songStore";
import { labelMics } from "./labelMics";

/** What a file is taken for, in words. */
const takenFor = ({ piece, place }: Mic): string =>
  place === "close" ? pieceNames[piece] : `${pieceNames[piece]}, ${placeNames[place].toLowerCase()}`;

/** Files whose label is unsure: to be heard and confirmed; choosing another label in the list decides them as well. */
export function LabelQuestions() {
  const song = useSong((s) => s.song!);
  const open = labelQuestions(song);
  if (open.length === 0) return null;
  return (
    <section className="proposals" aria-label="Is that right?">
      <header>
        <h3>Is that right?</h3>
      </header>
      <p className="hint">In the list A plays the chosen file alone, and Enter says yes.</p>
      {open.map((m) => (
        <div className="proposal" key={m.id}>
          <p>
            {shortName(m.file)} is taken for: {takenFor(m)}.
          </p>
          <strong>{Math.round(100 * m.sure)} % sure</strong>
          <span className="decide">
            <Button
              size="sm"
              variant="link"
              onClick={() => {
                useSong.getState().chooseMic(m.id);
                hearAlone(m.id);
              }}
            >
              Hear
            </Button>
            <Button size="sm" aria-label={`Yes, ${m.file} is that`} onClick={() => labelMics([m.id], {})}>
              Yes
            </Button>
          </span>
        </div>
      ))}
    </section>
  );
}
