"use client";
import { useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import { Download } from "react-bootstrap-icons";
import type { Verdict } from "../../core/deliver/checks";
import { usualDelivery, type Delivery } from "../../core/deliver/delivery";
import type { Measurement } from "../../core/measure/measureAudio";
import type { Task } from "../../contract";
import { api } from "../shared/api";
import { Nothing } from "../shared/Nothing";
import { allSaved, useSong } from "../shared/songStore";
import { Checks } from "./Checks";
import { Files, type RenderedFile } from "./Files";
import { NextRender } from "./NextRender";
import { RenderForm, useDelivery } from "./RenderForm";

/** What a render left behind; older ones told no delivery. */
interface Result {
  readonly files?: RenderedFile[];
  readonly kit?: Measurement;
  readonly delivery?: Delivery;
  readonly verdicts?: Verdict[];
}

/** Takes the kit bus down so that the true peak stays below -1 dBTP. */
function LowerKit({ by }: { by: number }) {
  const kit = useSong((s) => s.song!.buses.find((b) => b.output === null)!);
  const down = Math.ceil(by * 10) / 10;
  return (
    <p>
      <Button
        size="sm"
        onClick={() =>
          useSong.getState().change(`Lower the kit by ${down.toFixed(1)} dB`, {
            op: "setBus",
            bus: kit.id,
            values: { level: Math.round((kit.level - down) * 10) / 10 },
          })
        }
      >
        Lower the kit by {down.toFixed(1)} dB
      </Button>{" "}
      then render again.
    </p>
  );
}

/** The last render of the open song that is done; undefined: not asked yet. */
function useLastRender(): Task | null | undefined {
  const id = useSong((s) => s.id);
  const state = useSong((s) => s.task?.state);
  const [last, setLast] = useState<Task | null | undefined>(undefined);
  useEffect(() => {
    let open = true;
    api.listTasks(id).then(
      (tasks) => open && setLast(tasks.find((t) => t.kind === "export" && t.state === "done") ?? null),
      () => open && setLast(null), // the list is a convenience; the export itself tells its errors
    );
    return () => {
      open = false;
    };
  }, [id, state]);
  return last;
}

/** The whole song as one file. */
function Archive() {
  const id = useSong((s) => s.id);
  return (
    <section className="panel">
      <header>
        <h3>The whole song</h3>
      </header>
      <p>One archive with all settings and the files as they came in. Imported again it is the same song.</p>
      <Button
        variant="outline-primary"
        onClick={() => void allSaved().then(() => window.location.assign(`/api/songs/${id}/archive`))}
      >
        <Download aria-hidden /> Song archive
      </Button>
    </section>
  );
}

/** Verdicts on the last render and its files, and what the next one will be. */
function Bench({ last }: { last: Task | null }) {
  const { kit, verdicts, files, delivery = null } = (last?.result ?? {}) as Result;
  const part = useDelivery(delivery);
  const target = (delivery ?? usualDelivery).target;
  return (
    <div className="bench-columns">
      <div className="evidence scrolls">
        <h2>Checks of the last render</h2>
        {verdicts ? (
          <Checks verdicts={verdicts} />
        ) : (
          <p className="lead">
            {last
              ? "This render was made before there were verdicts: render again to see them."
              : "Render the kit; then its loudness, peaks, mono, low end and more are judged here, worst first."}
          </p>
        )}
        {kit && target === "none" && kit.truePeakDb > -1 && <LowerKit by={kit.truePeakDb + 1} />}
        {files && last && <Files task={last.id} files={files} />}
        <NextRender delivery={part.delivery} folded={last !== null} />
      </div>
      <aside className="settings">
        <RenderForm {...part} />
        <Archive />
      </aside>
    </div>
  );
}

/** Deliver: what is rendered and how, verdicts on the last render, its files, and the song as an archive. */
export function DeliverBench() {
  const id = useSong((s) => s.id);
  const mics = useSong((s) => s.song!.mics.length);
  const last = useLastRender();
  if (mics === 0) return <Nothing>There is nothing to deliver yet: bring files in in Gather.</Nothing>;
  return last === undefined ? null : <Bench key={id} last={last} />;
}
