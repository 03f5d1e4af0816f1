"use client";
import Link from "next/link";
import { useCallback, useEffect, useState } from "react";
import { Alert, Button, ProgressBar } from "react-bootstrap";
import { ArrowClockwise, ArrowCounterclockwise, QuestionCircle } from "react-bootstrap-icons";
import { taskNames } from "../../contract";
import { processorType } from "../../core/processors";
import type { Song, Step } from "../../core/song/song";
import { AlignBench } from "../align/AlignBench";
import { BlendBench } from "../blend/BlendBench";
import { CleanBench } from "../clean/CleanBench";
import { Compare } from "../compare/Compare";
import { DeliverBench } from "../deliver/DeliverBench";
import { GatherBench } from "../gather/GatherBench";
import { DrumList } from "../kit/DrumList";
import { KitPlan } from "../kit/KitPlan";
import { ShapeBench } from "../shape/ShapeBench";
import { GuideCard } from "../help/guide/GuideCard";
import { HelpPage } from "../help/HelpPage";
import { toggleHelp } from "../help/helpStore";
import { StepPurpose } from "../help/StepPurpose";
import { playback, usePlayback } from "../shared/playback";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { taskTold } from "../shared/timeLeft";
import { SongLine } from "../songLine/SongLine";
import { StepBar } from "../steps/StepBar";
import { TightenBench } from "../tighten/TightenBench";
import { ShortcutSheet } from "./ShortcutSheet";
import { useAddress } from "./useAddress";
import { useShortcuts } from "./useShortcuts";

const benches: Record<Step, () => React.ReactNode> = {
  gather: GatherBench,
  align: AlignBench,
  tighten: TightenBench,
  clean: CleanBench,
  shape: ShapeBench,
  blend: BlendBench,
  deliver: DeliverBench,
};

/** A message that stays until it is dealt with. */
function Trouble() {
  const trouble = useSong((s) => s.trouble);
  const stale = useSong((s) => s.stale);
  if (!trouble) return null;
  return (
    <Alert
      variant="warning"
      className="trouble-bar"
      dismissible={!stale}
      onClose={() => useSong.getState().tell(null)}
    >
      {trouble}{" "}
      {stale && (
        <Button size="sm" onClick={() => void useSong.getState().reload()}>
          Load the song anew
        </Button>
      )}
    </Alert>
  );
}

/** What stands in the way of playing, and processors that had to be taken out. */
function PlaybackTrouble() {
  const trouble = usePlayback((s) => s.trouble);
  const failed = usePlayback((s) => s.failed);
  const song = useSong((s) => s.song!);
  const names = failed.map((id) => {
    const owner = [...song.mics, ...song.buses].find((o) => o.chain.some((p) => p.id === id));
    const type = owner?.chain.find((p) => p.id === id)?.type;
    return owner && type ? `${processorType(type).label} of ${ownerName(owner)}` : id;
  });
  return (
    <>
      {trouble && (
        <Alert variant="warning" className="trouble-bar">
          {trouble}
        </Alert>
      )}
      {names.length > 0 && (
        <Alert variant="warning" className="trouble-bar">
          {names.join(", ")} returned something that is no number and was taken out; the rest plays on. The
          song is safe; load the page anew to try it again.
        </Alert>
      )}
    </>
  );
}

function TaskBar() {
  const task = useSong((s) => s.task);
  if (!task || (task.state !== "running" && task.state !== "waiting")) return null;
  const what = taskNames[task.kind];
  return (
    <div className="task-bar" role="status">
      <span>
        {what}: {taskTold(task, performance.now() / 1000)}
      </span>
      <ProgressBar now={100 * task.progress} aria-label={what} />
      <Button size="sm" variant="outline-secondary" onClick={() => void useSong.getState().stopTask()}>
        Stop
      </Button>
    </div>
  );
}

/** Undo, redo, whether all is saved, and help. */
function HistoryButtons() {
  const undo = useSong((s) => s.undo);
  const redo = useSong((s) => s.redo);
  const unsaved = useSong((s) => s.unsaved);
  const { history } = useSong.getState();
  return (
    <span className="history">
      <Button
        size="sm"
        variant="link"
        disabled={!undo}
        aria-label={`Undo: ${undo ?? "nothing"}`}
        title={undo ? `Undo: ${undo} (Ctrl Z)` : "Nothing to undo"}
        onClick={() => void history("undo")}
      >
        <ArrowCounterclockwise aria-hidden />
      </Button>
      <Button
        size="sm"
        variant="link"
        disabled={!redo}
        aria-label={`Redo: ${redo ?? "nothing"}`}
        title={redo ? `Redo: ${redo} (Ctrl Shift Z)` : "Nothing to redo"}
        onClick={() => void history("redo")}
      >
        <ArrowClockwise aria-hidden />
      </Button>
      <span className="saved" role="status">
        {unsaved > 0 ? "saving …" : "saved"}
      </span>
      <Button size="sm" variant="link" aria-label="Help" title="Help (F1)" onClick={toggleHelp}>
        <QuestionCircle aria-hidden />
      </Button>
    </span>
  );
}

function TopBar({ song }: { song: Song }) {
  return (
    <header className="top">
      <Link href="/" className="home" title="All songs">
        jubo
      </Link>
      <h1 title={song.title}>{song.title}</h1>
      <StepBar />
      <span className="fill" />
      <Compare />
      <HistoryButtons />
    </header>
  );
}

/** Opens a song, and keeps the page from being left while something is not saved. */
function useOpen(id: string): void {
  useEffect(() => {
    void useSong.getState().open(id);
    // A hook for tests and scripts in the page: what is heard can be captured.
    Object.assign(window, {
      jubo: {
        capture: playback.capture,
        seek: playback.seek,
        onState: playback.subscribe,
        audio: playback.audio,
        song: () => useSong.getState().song,
      },
    });
    return () => playback.close();
  }, [id]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (useSong.getState().unsaved > 0) event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, []);
}

/** One song: steps on top, the kit on the left, the bench of the step, the song line along the bottom. */
export function SongView({ id }: { id: string }) {
  const song = useSong((s) => s.song);
  const step = useSong((s) => s.step);
  const [sheet, setSheet] = useState(false);
  useOpen(id);
  const toggleSheet = useCallback(() => setSheet((s) => !s), []);
  useShortcuts(toggleSheet);
  useAddress(song !== null);
  if (!song)
    return (
      <main className="loading">
        <Trouble />
        <p>Opening the song …</p>
        <Link href="/">All songs</Link>
      </main>
    );
  const Bench = benches[step];
  return (
    <div className="song-view">
      <TopBar song={song} />
      <Trouble />
      <PlaybackTrouble />
      <TaskBar />
      <div className="middle">
        <aside className="kit-side">
          {song.mics.length > 0 ? (
            <>
              <KitPlan />
              <DrumList />
            </>
          ) : (
            <p className="hint">The kit is drawn here when its mics are in.</p>
          )}
        </aside>
        <main className="bench-area" aria-label={`Bench: ${step}`}>
          <StepPurpose />
          <GuideCard />
          <Bench />
        </main>
      </div>
      {song.mics.length > 0 && <SongLine />}
      <HelpPage showKeys={toggleSheet} />
      <ShortcutSheet open={sheet} close={() => setSheet(false)} />
    </div>
  );
}
