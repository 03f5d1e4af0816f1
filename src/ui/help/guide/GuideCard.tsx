"use client";
import { useEffect, useRef } from "react";
import { Button, CloseButton } from "react-bootstrap";
import { CheckCircle } from "react-bootstrap-icons";
import { useSong } from "../../shared/songStore";
import { leaveGuide, useHelp } from "../helpStore";
import { stops } from "./stops";

/** Marks what a stop speaks of while it is there. */
function useMark(target: string | null): void {
  useEffect(() => {
    if (target === null) return undefined;
    let marked: Element | null = null;
    // What a step shows comes a little later than the step.
    const look = () => {
      const found = document.querySelector(target);
      if (found !== marked) marked?.classList.remove("guided");
      // Drawn anew it has lost the mark.
      found?.classList.add("guided");
      marked = found;
    };
    look();
    const timer = setInterval(look, 400);
    return () => {
      clearInterval(timer);
      marked?.classList.remove("guided");
    };
  }, [target]);
}

/** The guide: where one is, what to look at, on and back; it can be left at any time and never stands in the way. */
export function GuideCard() {
  const at = useHelp((s) => s.stop);
  const song = useSong((s) => s.song!);
  const stop = at === null ? null : (stops[at] ?? null);
  const card = useRef<HTMLElement>(null);
  useMark(stop?.target ?? null);
  const step = stop?.step;
  useEffect(() => {
    if (at === null || step === undefined) return;
    if (useSong.getState().step !== step) useSong.getState().chooseStep(step);
    if (useSong.getState().piece !== null) useSong.getState().choosePiece(null);
    card.current?.focus();
  }, [at, step]);
  if (stop === null || at === null) return null;
  const go = (to: number) => (to >= stops.length ? leaveGuide() : useHelp.setState({ stop: to }));
  return (
    <section className="song-guide" aria-label="Guide" tabIndex={-1} ref={card} aria-live="polite">
      <header>
        <strong>{stop.title}</strong>
        <small>
          {at + 1} of {stops.length}
        </small>
        {stop.done?.(song) && (
          <span className="done">
            <CheckCircle aria-hidden /> done
          </span>
        )}
        <CloseButton aria-label="Leave the guide" title="Leave the guide" onClick={leaveGuide} />
      </header>
      <p>{stop.text}</p>
      <div className="buttons">
        <Button size="sm" variant="outline-secondary" disabled={at === 0} onClick={() => go(at - 1)}>
          Back
        </Button>
        <Button size="sm" onClick={() => go(at + 1)}>
          {at === stops.length - 1 ? "End" : "Next"}
        </Button>
      </div>
    </section>
  );
}
