"use client";
import { useMemo } from "react";
import { Button } from "react-bootstrap";
import { isHeardOtherwise } from "../../core/song/relabel";
import { ProposalTable } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { useProposals } from "../shared/useProposals";
import { ImportPanel } from "./ImportPanel";
import { LabelQuestions } from "./LabelQuestions";
import { MicTable } from "./MicTable";

/** Gather: bring files in, say what each is, set the trims. */
export function GatherBench() {
  const song = useSong((s) => s.song!);
  const analysed = useSong((s) => s.analysed);
  const task = useSong((s) => s.task);
  const proposals = useProposals("gather");
  const otherwise = useMemo(() => analysed && isHeardOtherwise(song), [analysed, song]);
  const running = task && (task.state === "waiting" || task.state === "running");
  const empty = song.mics.length === 0;
  return (
    <div className="bench gather">
      <ImportPanel empty={empty} />
      {!empty && (
        <div className="bench-columns">
          <div className="evidence scrolls">
            <MicTable />
          </div>
          <aside className="settings">
            <section className="panel">
              <header>
                <h3>Analysis</h3>
              </header>
              <p>
                {analysed
                  ? `${song.hits.length} strokes found${song.tempo ? `, ${song.tempo.bpm.toFixed(2)} bpm` : ""}. ${otherwise ? "They were found by other labels or files: analyse again." : "They follow when a label is corrected."}`
                  : "Finds strokes, tempo, delays and polarity, silent mics and drums that are never played."}
              </p>
              <Button
                size="sm"
                variant={analysed && !otherwise ? "outline-primary" : "primary"}
                disabled={!!running}
                onClick={() => void useSong.getState().run("analyse", {})}
              >
                {analysed ? "Analyse again" : "Analyse the kit"}
              </Button>
            </section>
            {analysed && <LabelQuestions />}
            <ProposalTable title="Trims" proposals={proposals} />
          </aside>
        </div>
      )}
    </div>
  );
}
