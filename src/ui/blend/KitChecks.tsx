"use client";
import { Button } from "react-bootstrap";
import { api } from "../shared/api";
import { useMeasured } from "../shared/useMeasured";
import { useSong } from "../shared/songStore";
import { Checks } from "../deliver/Checks";

/** What is wrong with the kit as it stands, worst first, each with the step where it is mended. */
export function KitChecks() {
  const song = useSong((s) => s.song!);
  const { value, of, busy, measure } = useMeasured((id) => api.checkKit(id));
  return (
    <>
      <div className="bench-head">
        <Button size="sm" disabled={busy} onClick={() => void measure()}>
          {busy ? "Measuring …" : value ? "Check again" : "Check the kit"}
        </Button>
        {value && of !== song && <span className="warn">The song has changed since.</span>}
      </div>
      {value ? (
        <Checks verdicts={value.verdicts} />
      ) : (
        <p className="lead">
          Renders the 30 s with the most strokes as the kit stands now, and says what is wrong, worst first.
        </p>
      )}
    </>
  );
}
