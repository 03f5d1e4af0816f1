"use client";
import { Button, ProgressBar } from "react-bootstrap";
import type { Delivery } from "../../core/deliver/delivery";
import { useSong } from "../shared/songStore";
import { taskTold } from "../shared/timeLeft";

/** Renders; while it does, how far it is, and how to stop it. */
export function RenderButton({ delivery, disabled }: { delivery: Delivery; disabled: boolean }) {
  const task = useSong((s) => (s.task?.kind === "export" ? s.task : null));
  if (task?.state === "running" || task?.state === "waiting")
    return (
      <>
        <ProgressBar now={100 * task.progress} aria-label="Rendering" />
        <p className="hint" data-testid="rendering">
          {taskTold(task, performance.now() / 1000)}
        </p>
        <Button size="sm" variant="outline-secondary" onClick={() => void useSong.getState().stopTask()}>
          Stop
        </Button>
      </>
    );
  return (
    <>
      <Button disabled={disabled} onClick={() => void useSong.getState().run("export", delivery)}>
        Render the kit
      </Button>
      {task?.state === "cancelled" && <p className="hint">{task.message}</p>}
    </>
  );
}
