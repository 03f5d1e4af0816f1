"use client";
import { Button } from "react-bootstrap";
import { X } from "react-bootstrap-icons";
import { useSong } from "../shared/songStore";
import { beginGuide, leaveGuide, toggleHelp, useHelp } from "./helpStore";
import { stepHelp } from "./stepHelp";

/** One line above the bench: what the step is for; to who was never here before, the guide. */
export function StepPurpose() {
  const step = useSong((s) => s.step);
  const filled = useSong((s) => s.song!.mics.length > 0);
  const shown = useHelp((s) => s.purpose);
  const stop = useHelp((s) => s.stop);
  const offered = useHelp((s) => s.offered);
  if (!shown || stop !== null) return null;
  return (
    <p className="step-purpose">
      {stepHelp[step].purpose}{" "}
      <Button variant="link" size="sm" title="Help to this step and its figures (F1)" onClick={toggleHelp}>
        More
      </Button>
      {filled && !offered && (
        <span className="offer">
          New here?
          <Button variant="outline-primary" size="sm" onClick={beginGuide}>
            Two minutes through this song
          </Button>
          <Button variant="link" size="sm" onClick={leaveGuide}>
            Not now
          </Button>
        </span>
      )}
      <Button
        variant="link"
        size="sm"
        className="hide"
        aria-label="Say no more what steps are for"
        title="Say no more what steps are for; Help brings it back"
        onClick={() => useHelp.setState({ purpose: false })}
      >
        <X aria-hidden />
      </Button>
    </p>
  );
}
