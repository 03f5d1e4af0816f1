import { Button } from "react-bootstrap";
import type { Song } from "../../../core/song/song";
import { usePlayback } from "../../shared/playback";
import { changePlaying } from "../playingChange";
import { act } from "./act";

interface Props {
  readonly song: Song;
  readonly barOf: (seconds: number) => string;
}

/** Strokes and regions that are left as they were played. */
export function LeftPanel({ song: { tighten, sampleRate }, barOf }: Props) {
  const loop = usePlayback((s) => (s.looping ? s.loop : null));
  const { left, locked } = tighten;
  const change = (label: string, next: Partial<typeof tighten>) =>
    changePlaying(label, { tighten: { ...tighten, ...next } });
  const lockLoop = () => {
    if (!loop) return;
    const region = { from: loop.from / sampleRate, to: loop.to / sampleRate };
    const what = `Leave ${region.from.toFixed(1)} to ${region.to.toFixed(1)} s as played`;
    change(what, { locked: [...locked, region] });
  };
  return (
    <section className="panel">
      <header>
        <h3>Left as played</h3>
      </header>
      <p className="hint">
        {left.length} strokes and {locked.length} regions are not moved.
      </p>
      <Button size="sm" variant="outline-secondary" disabled={!loop} onClick={lockLoop}>
        Leave the loop as played
      </Button>
      {locked.map((r) => (
        <div className="locked-region" key={`${r.from}`}>
          bar {barOf(r.from)} to {barOf(r.to)}{" "}
          {act("Move again", () => change("Move a region again", { locked: locked.filter((x) => x !== r) }))}
        </div>
      ))}
      {left.length > 0 && (
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => change("Move all strokes again", { left: [] })}
        >
          Move the {left.length} strokes again
        </Button>
      )}
    </section>
  );
}
