"use client";
import type { ReactNode } from "react";
import { Button } from "react-bootstrap";
import { CheckLg } from "react-bootstrap-icons";
import { isDecided, isTaken } from "../../core/proposals/decided";
import { takeTogether } from "../../core/proposals/takeTogether";
import type { Proposal } from "../../core/song/proposal";
import { useSong } from "./songStore";

/** Does what a proposal says. */
export const takeProposal = (p: Proposal): void =>
  useSong.getState().change(p.sentence.slice(0, 190), p.operation);
/** Says no to a proposal; it does not come up again. */
export const refuseProposal = (p: Proposal, refused: readonly string[]): void =>
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
          <Button size="sm" onClick={() => takeProposal(proposal)}>
            Take
          </Button>
          {!refused && !isDecided(song, proposal) && (
            <Button size="sm" variant="link" onClick={() => refuseProposal(proposal, song.refused)}>
              Refuse
            </Button>
          )}
        </span>
      )}
    </div>
  );
}

interface ListProps {
  readonly proposals: readonly Proposal[];
  readonly title: string;
}

/** One button that takes all proposals that are open, as one change. */
export function TakeAll({ proposals, title }: ListProps) {
  const song = useSong((s) => s.song!);
  const open = proposals.filter((p) => !isDecided(song, p));
  const takeAll = () =>
    useSong.getState().change(`${title}: take ${open.length} proposals`, {
      op: "several",
      operations: takeTogether(song, open),
    });
  return (
    <Button size="sm" className="take-all" disabled={open.length === 0} onClick={takeAll}>
      {open.length === 0 ? "All decided" : `Take all ${open.length}`}
    </Button>
  );
}

/** Proposals of the whole kit as rows, or in another shape. */
export function ProposalTable({ proposals, title, children }: ListProps & { children?: ReactNode }) {
  if (proposals.length === 0) return null;
  return (
    <section className="proposals" aria-label={title}>
      <header>
        <h3>{title}</h3>
        <TakeAll proposals={proposals} title={title} />
      </header>
      {children ?? proposals.map((p) => <ProposalCard key={p.id} proposal={p} />)}
    </section>
  );
}
