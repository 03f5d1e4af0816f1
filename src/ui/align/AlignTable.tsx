"use client";
import { useMemo } from "react";
import { Button, Table } from "react-bootstrap";
import { CheckLg, Lock, Unlock } from "react-bootstrap-icons";
import { alignTargets, behindOverheads, type AlignTarget } from "../../core/align/targets";
import { clockLeft, type Facts } from "../../core/facts/facts";
import { inKitOrder } from "../../core/song/kitOrder";
import type { Proposal } from "../../core/song/proposal";
import { isTaken } from "../../core/proposals/decided";
import { isDrum, type Mic, type Song } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { shortName, signed } from "../shared/format";
import { refuseProposal, takeProposal } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { delayOf, isInverted, lockMic } from "./moves";

const place = (polarity: 1 | -1, delay: number): string =>
  `${polarity === -1 ? "inverted, " : ""}${signed(delay, 2)} smp`;

/** Why a mic has no proposal. */
function reason(song: Song, facts: Facts, mic: Mic): string {
  if (mic.silent) return "silent";
  if (mic.unplayed) return "never played";
  if (mic.locked) return "locked";
  const pair = facts.pairs[mic.id];
  if (pair?.thin)
    return `only ${pair.strokes} stroke${pair.strokes === 1 ? "" : "s"} to judge by: set it by ear`;
  if (mic.piece === "room") {
    const behind = behindOverheads(song.mics, facts.arrivals, mic.id);
    return behind === null
      ? "stays"
      : `stays ${((1000 * behind) / song.sampleRate).toFixed(1)} ms behind the overheads`;
  }
  return isDrum(mic.piece) && !mic.reference ? "main mic, stays" : "stays";
}

interface RowProps {
  readonly mic: Mic;
  readonly target: AlignTarget | undefined;
  readonly proposal: Proposal | undefined;
  /** A layer whose strokes stray, brought to the drum's one by one. */
  readonly layer: Proposal | undefined;
}

interface ActProps {
  readonly label: string;
  readonly title: string;
  readonly act: () => void;
}
/** A press in a row that chooses nothing. */
function Act({ label, title, act }: ActProps) {
  return (
    <Button
      size="sm"
      variant="link"
      title={title}
      onClick={(event) => {
        event.stopPropagation();
        act();
      }}
    >
      {label}
    </Button>
  );
}

/** Where a mic should stand, or why it stays; strokes that stray and a clock that runs off. */
function Proposed({ mic, target, layer }: Omit<RowProps, "proposal">) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const drift = clockLeft(facts, mic);
  return (
    <td className="number proposed">
      {target ? (
        place(target.polarity, target.delay)
      ) : (
        <span className="quiet">{reason(song, facts, mic)}</span>
      )}
      {layer && !isTaken(song, layer) && !song.refused.includes(layer.id) && (
        <span className="clock" title={layer.sentence}>
          {" "}
          its strokes stray by {layer.figure}{" "}
          <Act label="Follow" title={layer.sentence} act={() => takeProposal(layer)} />
        </span>
      )}
      {drift !== 0 && (
        <span className="clock">
          {" "}
          its clock runs off by {signed(drift, 1)} ppm{" "}
          <Act
            label="Correct"
            title={`Correct the clock of ${mic.file}: the other mics stay`}
            act={() => void useSong.getState().run("clock", { mics: [mic.id] })}
          />
        </span>
      )}
    </td>
  );
}

/** Takes or refuses what is proposed for a mic, or says what was decided. */
function Decide({ mic, proposal }: Pick<RowProps, "mic" | "proposal">) {
  const song = useSong((s) => s.song!);
  if (!proposal) return null;
  if (isTaken(song, proposal))
    return (
      <span className="in-force">
        <CheckLg aria-hidden /> taken
      </span>
    );
  if (song.refused.includes(proposal.id)) return <span className="quiet">refused</span>;
  return (
    <>
      <Act label="Take" title={`Take for ${mic.file}`} act={() => takeProposal(proposal)} />
      <Act
        label="Refuse"
        title={`Refuse for ${mic.file}`}
        act={() => refuseProposal(proposal, song.refused)}
      />
    </>
  );
}

function LockButton({ mic }: { mic: Mic }) {
  return (
    <Button
      size="sm"
      variant="link"
      aria-label={`${mic.locked ? "Unlock" : "Lock"} ${mic.file}`}
      aria-pressed={mic.locked}
      title={mic.locked ? "Locked: no proposal or key moves it" : "Lock what is right"}
      onClick={(event) => {
        event.stopPropagation();
        lockMic(mic);
      }}
    >
      {mic.locked ? <Lock aria-hidden /> : <Unlock aria-hidden />}
    </Button>
  );
}

function Row({ mic, target, proposal, layer }: RowProps) {
  return (
    <tr onClick={() => useSong.getState().chooseMic(mic.id)}>
      <td className="name" title={mic.file}>
        <strong>{pieceNames[mic.piece]}</strong> {shortName(mic.file)}
      </td>
      <td>{target ? shortName(target.toward) : ""}</td>
      <td className="number">{place(isInverted(mic) ? -1 : 1, delayOf(mic))}</td>
      <Proposed mic={mic} target={target} layer={layer} />
      <td className="number">{target && target.gainDb !== null ? `${signed(target.gainDb, 1)} dB` : ""}</td>
      <td className="number">{target ? `${Math.round(100 * target.confidence)} %` : ""}</td>
      <td className="decide">
        <Decide mic={mic} proposal={proposal} />
      </td>
      <td>
        <LockButton mic={mic} />
      </td>
    </tr>
  );
}

/** Every mic with where it stands and where it should, take or refuse one by one. */
export function AlignTable({ proposals }: { proposals: readonly Proposal[] }) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const targets = useMemo(() => alignTargets(song, facts), [song, facts]);
  return (
    <Table size="sm" className="mic-table align-table" aria-label="Alignment of the whole kit">
      <thead>
        <tr>
          <th>Mic</th>
          <th>To meet</th>
          <th className="number">Now</th>
          <th className="number">Proposed</th>
          <th className="number">Low end</th>
          <th className="number">Sure</th>
          <th aria-label="Decide" />
          <th aria-label="Lock" />
        </tr>
      </thead>
      <tbody>
        {inKitOrder(song.mics).map((m) => (
          <Row
            key={m.id}
            mic={m}
            target={targets.get(m.id)}
            proposal={proposals.find((p) => p.id === `align:${m.id}`)}
            layer={proposals.find((p) => p.id === `layer:${m.id}`)}
          />
        ))}
      </tbody>
    </Table>
  );
}
