"use client";
import { Button } from "react-bootstrap";
import { CheckLg } from "react-bootstrap-icons";
import { isDecided, isTaken } from "../../core/gather/decided";
import type { Proposal } from "../../core/gather/proposal";
import { useSong } from "./songStore";

const take = (p: Proposal) => useSong.getState().change(p.sentence.slice(0, 190), p.operation);
const refuse = (p: Proposal, refused: readonly string[]) =>
  useSong.getState().change(`Refuse: ${p.sentence}`.slice(0, 190), {
    op: "setSong",
    values: { refused: [...refused, p.id] },
  });

/** One proposal: a sentence, a figure, take it or refuse it. One that is in force or was decided says so. */
export function ProposalCard({ proposal }: { proposal: Proposal }) {
  const song = useSong((s) => s.song!);
  const taken = isTaken(song, proposal);
  const refused = song.refused.includes(proposal.id);
  return (
    <div className={`proposal ${taken ? "taken" : refused ? "refused" : ""}`}>
      <p>{proposal.sentence}</p>
      <strong>{proposal.figure}</strong>
      {taken ? (
        <span className="in-force">
          <CheckLg aria-hidden /> taken
        </span>
      ) : (
        <span className="decide">
          <Button size="sm" onClick={() => take(proposal)}>
            Take
          </Button>
          {!refused && !isDecided(song, proposal) && (
            <Button size="sm" variant="link" onClick={() => refuse(proposal, song.refused)}>
              Refuse
            </Button>
          )}
        </span>
      )}
    </div>
  );
}

/** Proposals of the whole kit as rows, with one button that takes all that are open. */
export function ProposalTable({ proposals, title }: { proposals: readonly Proposal[]; title: string }) {
  const song = useSong((s) => s.song!);
  const open = proposals.filter((p) => !isDecided(song, p));
  const takeAll = () =>
    useSong.getState().change(`${title}: take ${open.length} proposals`, {
      op: "several",
      operations: open.map((p) => p.operation),
    });
  if (proposals.length === 0) return null;
  return (
    <section className="proposals" aria-label={title}>
      <header>
        <h3>{title}</h3>
        <Button size="sm" disabled={open.length === 0} onClick={takeAll}>
          {open.length === 0 ? "All decided" : `Take all ${open.length}`}
        </Button>
      </header>
      {proposals.map((p) => (
        <ProposalCard key={p.id} proposal={p} />
      ))}
    </section>
  );
}
