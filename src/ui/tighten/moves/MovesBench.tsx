"use client";
import { useMemo, useState } from "react";
import { isShell, type Tempo, type TightenSettings } from "../../../core/song/song";
import { feelByDrum } from "../../../core/tighten/playing";
import { planEdits } from "../../../core/tighten/planEdits";
import { leadingStrokes, measureTightness } from "../../../core/tighten/tightness";
import { Nothing } from "../../shared/Nothing";
import { useSong } from "../../shared/songStore";
import { changePlaying } from "../playingChange";
import { FeelTable } from "./FeelTable";
import { FiguresPanel } from "./FiguresPanel";
import type { MovePanelProps } from "./movePanel";
import { MoveSettings } from "./MoveSettings";
import { OffsetPlots } from "./OffsetPlots";
import { offsetSeries } from "./offsetSeries";

/** Settings as they are, or as they are dragged; they are taken when a drag ends. */
function useDraft(taken: TightenSettings) {
  const [draft, setDraft] = useState<Partial<TightenSettings> | null>(null);
  const settings: TightenSettings = useMemo(() => ({ ...taken, ...draft }), [taken, draft]);
  const store: MovePanelProps["store"] = (next, done) => {
    if (!done) return setDraft({ ...draft, ...next });
    const tighten = { ...settings, ...next };
    setDraft(null);
    const { strength } = tighten;
    const label = strength > 0 ? `Tighten by ${Math.round(100 * strength)} %` : "Tighten settings";
    changePlaying(label, { tighten });
  };
  return { dragged: draft !== null, settings, store };
}

/** The moves of a song whose beats are known. */
function Moves({ tempo }: { tempo: Tempo }) {
  const song = useSong((s) => s.song!);
  const piece = useSong((s) => s.piece);
  const { hits, sampleRate, sections } = song;
  const { dragged, settings, store } = useDraft(song.tighten);
  // While something is dragged the cuts are planned here, without the recording; then the server plans them with it.
  const edits = useMemo(
    () => (dragged ? planEdits({ ...song, tighten: settings }) : song.edits),
    [dragged, song, settings],
  );
  const mains = useMemo(
    () =>
      piece === null
        ? leadingStrokes(hits, settings)
        : hits.filter((h) => h.piece === piece && !h.ghost && h.kind !== "grace"),
    [hits, piece, settings],
  );
  const series = useMemo(
    () => offsetSeries(song, tempo, settings, mains, edits),
    [song, tempo, settings, mains, edits],
  );
  const tightness = useMemo(
    () => measureTightness({ hits, tempo, tighten: settings, sections, edits, sampleRate }),
    [hits, tempo, settings, sections, edits, sampleRate],
  );
  if (!tightness) return <NoTempo />;
  const lean = feelByDrum(mains, tempo, settings, [])[0]?.lean ?? 0;
  return (
    <div className="bench-columns">
      <div className="evidence scrolls">
        <h2>
          {mains.length} {piece && !isShell(piece) ? "" : "main "}strokes{" "}
          <small>against the {settings.grid} grid</small>
        </h2>
        <OffsetPlots
          song={song}
          tempo={tempo}
          settings={settings}
          strokes={mains.length}
          series={series}
          store={store}
        />
        <FeelTable song={song} tempo={tempo} settings={settings} />
      </div>
      <aside className="settings">
        <FiguresPanel tightness={tightness} edits={edits} habit={piece && { piece, lean }} />
        <MoveSettings song={song} settings={settings} store={store} />
      </aside>
    </div>
  );
}

const NoTempo = () => (
  <Nothing>No tempo is known: there are too few strokes. Type or tap it under Beat.</Nothing>
);

/** The playing against the grid, and how far it is moved. */
export function MovesBench() {
  const { hits, tempo } = useSong((s) => s.song!);
  if (hits.length === 0)
    return <Nothing>Analyse the kit in Gather first; then the strokes are known.</Nothing>;
  return tempo ? <Moves tempo={tempo} /> : <NoTempo />;
}
