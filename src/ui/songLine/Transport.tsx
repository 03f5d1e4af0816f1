"use client";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { Button, ButtonGroup, Dropdown, Form } from "react-bootstrap";
import { PauseFill, PlayFill, Repeat, SkipStartFill } from "react-bootstrap-icons";
import { barAt } from "../../core/grid/bars";
import { ListenMenu } from "../compare/ListenMenu";
import { setText } from "../shared/draw";
import { clock } from "../shared/format";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { loopHere, loopKinds, playStrokes, sectionFromLoop, toggleLoop } from "./actions";
import { KitMeters } from "./KitMeters";

/** The loop's switch, and what may be looped where the playhead stands. */
function LoopMenu() {
  const looping = usePlayback((s) => s.looping);
  const loop = usePlayback((s) => s.loop);
  const [name, setName] = useState("");
  const take = () => {
    if (name.trim()) sectionFromLoop(name.trim());
    setName("");
  };
  return (
    <Dropdown as={ButtonGroup} size="sm" drop="up">
      <Button
        variant={looping ? "primary" : "outline-secondary"}
        aria-pressed={looping}
        title="Loop (L)"
        onClick={toggleLoop}
      >
        <Repeat aria-hidden /> Loop
      </Button>
      <Dropdown.Toggle split variant={looping ? "primary" : "outline-secondary"} aria-label="What to loop" />
      <Dropdown.Menu>
        {loopKinds.map((kind) => (
          <Dropdown.Item key={kind} as="button" onClick={() => loopHere(kind)}>
            {/\d/.test(kind) ? kind : `this ${kind}`}
          </Dropdown.Item>
        ))}
        <Dropdown.Divider />
        <div className="dropdown-item-text name-section">
          <Form.Control
            size="sm"
            aria-label="Name of the section"
            placeholder="name a section"
            value={name}
            disabled={!loop}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Enter") take();
            }}
          />
          <Button size="sm" variant="outline-secondary" disabled={!loop || !name.trim()} onClick={take}>
            Make
          </Button>
        </div>
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** Click, count-in and half speed. */
function PlayOptions({ hasTempo }: { hasTempo: boolean }) {
  const click = usePlayback((s) => s.click);
  const countIn = usePlayback((s) => s.countIn);
  const half = usePlayback((s) => s.half);
  const toggle = (label: string, title: string, on: boolean, set: (on: boolean) => void, usable = true) => (
    <Button
      variant={on ? "primary" : "outline-secondary"}
      aria-pressed={on}
      title={title}
      disabled={!usable}
      onClick={() => set(!on)}
    >
      {label}
    </Button>
  );
  return (
    <ButtonGroup size="sm" aria-label="How it plays">
      {toggle("Click", "A click on every beat (G)", click, playback.setClick, hasTempo)}
      {toggle("Count-in", "A bar of clicks before it plays", countIn, playback.setCountIn, hasTempo)}
      {toggle("½", "Half speed at the same pitch (H)", half, playback.setHalf)}
    </ButtonGroup>
  );
}

/** Where the playhead is: bar and time. */
function Place() {
  const song = useSong((s) => s.song!);
  const time = useRef<HTMLSpanElement>(null);
  const bar = useRef<HTMLSpanElement>(null);
  const { sampleRate, tempo } = song;
  useEffect(() => {
    const place = (frame: number) => {
      const seconds = Math.max(0, frame) / sampleRate;
      setText(time.current, clock(seconds));
      setText(bar.current, tempo ? barAt(tempo, seconds) : "–");
    };
    return playback.follow(place);
  }, [sampleRate, tempo]);
  return (
    <>
      <span className="figure">
        <label>Bar</label>{" "}
        <span ref={bar} className="wide">
          –
        </span>
      </span>
      <span
        className="figure"
        title={`of ${clock(song.frames / sampleRate)}${tempo ? `, ${tempo.bpm.toFixed(2)} bpm` : ""}`}
      >
        <label>Time</label>{" "}
        <span ref={time} className="wide" data-testid="time">
          0:00.0
        </span>
      </span>
    </>
  );
}

/** Play, loop, where the playhead is, how it is listened to and how loud the kit is. */
export function Transport({ zoom }: { zoom: ReactNode }) {
  const playing = usePlayback((s) => s.playing);
  const strokes = usePlayback((s) => s.strokes);
  const song = useSong((s) => s.song!);
  return (
    <div className="transport" role="group" aria-label="Transport">
      <Button
        size="sm"
        variant="outline-secondary"
        aria-label="To the start"
        title="To the start (Home)"
        onClick={() => playback.seek(0)}
      >
        <SkipStartFill aria-hidden />
      </Button>
      <Button
        size="sm"
        className="play"
        aria-label={playing ? "Stop" : "Play"}
        title="Play or stop (Space)"
        onClick={() => playback.toggle()}
      >
        {playing ? <PauseFill aria-hidden /> : <PlayFill aria-hidden />} {playing ? "Stop" : "Play"}
      </Button>
      <LoopMenu />
      <Button
        size="sm"
        variant={strokes ? "primary" : "outline-secondary"}
        aria-pressed={strokes}
        title="Only the strokes of the chosen drum, one after another, in the kit (J), or alone (Shift J)"
        onClick={playStrokes}
      >
        Strokes
      </Button>
      <PlayOptions hasTempo={song.tempo !== null} />
      <Place />
      <KitMeters />
      <span className="fill" />
      <ListenMenu
        hasContext={song.mics.some((m) => m.piece === "context" && m.id !== song.referenceRecord)}
      />
      {zoom}
    </div>
  );
}
