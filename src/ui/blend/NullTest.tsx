"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { nullBudgetDb, type NullResult } from "../../core/blend/nullTest";
import type { Bus } from "../../core/song/song";
import { api, ApiError } from "../shared/api";
import { withUnit } from "../shared/format";
import { allSaved, useSong } from "../shared/songStore";

/** Turns a path over against what goes into it, with the effect of its chain silenced, and says what is left. */
export function NullTest({ bus }: { bus: Bus }) {
  const id = useSong((s) => s.id);
  const [state, setState] = useState<NullResult | string | null>(null);
  const [busy, setBusy] = useState(false);
  const measure = async () => {
    setBusy(true);
    try {
      await allSaved();
      setState(await api.measureNull(id, bus.id));
    } catch (error) {
      setState(error instanceof ApiError ? error.message : "It could not be measured; the song is safe.");
    }
    setBusy(false);
  };
  const text =
    state === null || typeof state === "string"
      ? state
      : state.holds
        ? `In time: ${state.residueDb <= -300 ? "nothing" : `${state.residueDb.toFixed(0).replace("-", "−")} dB`} is left.`
        : `Not in time: ${state.residueDb.toFixed(1).replace("-", "−")} dB is left, most at ${withUnit(state.worstHz!, "Hz")}.`;
  return (
    <>
      <Button
        size="sm"
        variant="outline-primary"
        disabled={busy}
        title={`Silences the effect of its chain, turns the path over and adds what goes into it: below ${nullBudgetDb} dB all arrives together`}
        onClick={() => void measure()}
      >
        {busy ? "Measuring …" : "Null test"}
      </Button>
      {text && (
        <p className={typeof state === "object" && state?.holds ? "hint" : "warn"} role="status">
          {text}
        </p>
      )}
    </>
  );
}
