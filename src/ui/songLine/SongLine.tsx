"use client";
import { useCallback, useMemo, useRef } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { ZoomIn, ZoomOut } from "react-bootstrap-icons";
import { pieceNames } from "../../core/song/pieceNames";
import { useRedraw } from "../shared/canvas";
import { clock } from "../shared/format";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { TableBehind } from "../shared/TableBehind";
import { drawLine, rowsOf, topOf } from "./drawLine";
import { LevelLine } from "./LevelLine";
import { usePlayhead, useView } from "./lineView";
import { strokesTable } from "./strokesTable";
import { Transport } from "./Transport";
import { useLinePointer } from "./useLinePointer";

function ZoomButtons({ zoom }: { zoom: (factor: number) => void }) {
  return (
    <ButtonGroup size="sm" aria-label="Zoom of the song line">
      <Button variant="outline-secondary" aria-label="Show less of the song" onClick={() => zoom(0.5)}>
        <ZoomIn aria-hidden />
      </Button>
      <Button variant="outline-secondary" aria-label="Show more of the song" onClick={() => zoom(2)}>
        <ZoomOut aria-hidden />
      </Button>
    </ButtonGroup>
  );
}

/** The song from left to right: bars, sections, strokes per drum, loop and playhead; the transport on top of it. */
export function SongLine() {
  const song = useSong((s) => s.song!);
  const chosen = useSong((s) => s.piece);
  const loop = usePlayback((s) => (s.looping ? s.loop : null));
  const rate = song.sampleRate;
  const seconds = Math.max(1, song.frames / rate);
  const { view, zoom } = useView(seconds, rate);
  const { drawn, ...pointer } = useLinePointer(song, view);
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const shownLoop = useMemo(
    () => drawn ?? (loop && { from: loop.from / rate, to: loop.to / rate }),
    [drawn, loop, rate],
  );
  /** Asked for only when the line changes its size: with every report it would make the browser lay out anew. */
  const wide = useRef(0);
  const redraw = useCallback(() => {
    wide.current = canvas.current?.clientWidth ?? 0;
    if (canvas.current) drawLine(canvas.current, song, view, chosen, shownLoop);
  }, [song, view, chosen, shownLoop]);
  useRedraw(canvas, redraw);
  usePlayhead(head, view, rate, wide);
  const zoomBy = (factor: number) =>
    zoom(factor, shownLoop ? (shownLoop.from + shownLoop.to) / 2 : playback.position / rate);
  const rows = rowsOf(song.hits);
  return (
    <section className="song-line" aria-label="Song line">
      <Transport zoom={<ZoomButtons zoom={zoomBy} />} />
      <div className="lanes">
        <div className="lane-names" style={{ paddingTop: topOf(song) }} aria-hidden>
          {rows.map((p) => (
            <span key={p} className={chosen === p ? "chosen" : ""}>
              {pieceNames[p]}
            </span>
          ))}
        </div>
        <div className="lane">
          <TableBehind caption="strokes of the song" tables={() => [strokesTable(song)]} />
          <canvas
            ref={canvas}
            role="img"
            aria-label={`${song.hits.length} strokes on ${rows.length} drums over ${clock(seconds)}; click to put the playhead, drag to loop`}
            {...pointer}
            onWheel={(event) => zoomBy(event.deltaY > 0 ? 1.25 : 0.8)}
          />
          <LevelLine song={song} view={view} top={topOf(song)} />
          <div ref={head} className="playhead" aria-hidden />
        </div>
      </div>
    </section>
  );
}
