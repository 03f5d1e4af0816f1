"use client";
import { steps } from "../../core/song/song";
import { stepTitle } from "../compare/Compare";
import { useSong } from "../shared/songStore";
import { useOpenCounts } from "../shared/useProposals";

/** The seven steps in the order of work, each with what is still to decide. */
export function StepBar() {
  const step = useSong((s) => s.step);
  const open = useOpenCounts();
  return (
    <nav className="step-bar" aria-label="Steps">
      <ol>
        {steps.map((s, i) => (
          <li key={s}>
            <button
              type="button"
              className={s === step ? "current" : ""}
              aria-current={s === step ? "step" : undefined}
              title={`${stepTitle(s)} (${i + 1})`}
              onClick={() => useSong.getState().chooseStep(s)}
            >
              {stepTitle(s)}
              {open[s] > 0 && <span aria-label={`${open[s]} to decide`}>{open[s]}</span>}
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}
