"use client";
import { Button } from "react-bootstrap";
import { VolumeMuteFill } from "react-bootstrap-icons";
import { drumOf, inKitOrder } from "../../core/song/kitOrder";
import type { Mic } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { shortName } from "../shared/format";
import { useSong } from "../shared/songStore";

function stateOf(m: Mic): string {
  if (m.layer) return "layer";
  if (m.silent) return "silent";
  if (m.unplayed) return "never played";
  return m.place === "close" && !m.reference ? "" : m.place;
}

/** The plain list of drums and their mics beside the plan: choose by mouse or keyboard, mute and solo. */
export function DrumList() {
  const song = useSong((s) => s.song!);
  const chosen = useSong((s) => s.piece);
  const chosenMic = useSong((s) => s.mic);
  const { choosePiece, chooseMic, change } = useSong.getState();
  const set = (m: Mic, values: Partial<Pick<Mic, "muted" | "soloed">>, label: string) =>
    change(`${label} ${shortName(m.file)}`, { op: "setMic", mic: m.id, values });
  return (
    <nav className="drum-list" aria-label="Drums and mics">
      <button
        type="button"
        className={chosen === null ? "chosen all" : "all"}
        onClick={() => choosePiece(null)}
      >
        Whole kit <span>{song.mics.length} mics</span>
      </button>
      <ul>
        {inKitOrder(song.mics).map((m) => {
          const piece = drumOf(m);
          return (
            <li key={m.id} className={m.id === chosenMic ? "chosen" : ""}>
              <button
                type="button"
                aria-current={m.id === chosenMic}
                onClick={() => chooseMic(m.id)}
                style={{ "--piece": `var(--${piece.replace(/\d/, "")})` } as React.CSSProperties}
              >
                <i aria-hidden />
                <b>{pieceNames[piece]}</b> <span className="state">{stateOf(m)}</span>
                <span className="file">{shortName(m.file)}</span>
              </button>
              <Button
                size="sm"
                variant={m.soloed ? "primary" : "outline-secondary"}
                aria-pressed={m.soloed}
                aria-label={`Solo ${shortName(m.file)}`}
                title="Solo (S)"
                onClick={() => set(m, { soloed: !m.soloed }, m.soloed ? "Unsolo" : "Solo")}
              >
                solo
              </Button>
              <Button
                size="sm"
                variant={m.muted ? "dark" : "outline-secondary"}
                aria-pressed={m.muted}
                aria-label={`Mute ${shortName(m.file)}`}
                title="Mute (M)"
                onClick={() => set(m, { muted: !m.muted }, m.muted ? "Unmute" : "Mute")}
              >
                <VolumeMuteFill aria-hidden />
              </Button>
            </li>
          );
        })}
      </ul>
    </nav>
  );
}
