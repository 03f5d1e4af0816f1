"use client";
import { useEffect, useState } from "react";
import { Button, Form, ProgressBar, Table } from "react-bootstrap";
import { Download } from "react-bootstrap-icons";
import type { Measurement } from "../../core/measure/measureAudio";
import type { Task } from "../../contract";
import { api } from "../shared/api";
import { decibels, megabytes } from "../shared/format";
import { Nothing } from "../shared/Nothing";
import { allSaved, useSong } from "../shared/songStore";

const formats = [
  ["wav24", "WAV, 24 bit"],
  ["wav16", "WAV, 16 bit with dither"],
  ["wav32f", "WAV, 32 bit float"],
  ["flac", "FLAC, 24 bit"],
] as const;

/** What to look at before it leaves: figure, whether it is well, why. */
function checksOf(kit: Measurement): [string, string, boolean, string][] {
  return [
    ["True peak", `${decibels(kit.truePeakDb)} dBTP`, kit.truePeakDb <= -1, "above −1 dBTP a lossy copy may clip: lower the kit bus"],
    ["Clipped samples", String(kit.clippedSamples), kit.clippedSamples === 0, "lower the kit bus"],
    ["Integrated loudness", `${decibels(kit.integrated)} LUFS`, kit.integrated > -40, "very quiet: set the trims in Gather"],
    ["Loudness range", `${decibels(kit.range)} LU`, true, ""],
    ["Crest factor", `${decibels(kit.crestDb)} dB`, true, ""],
    ["Left and right agree", kit.correlation.toFixed(2), kit.correlation > 0, "folded to mono it loses level: look at Align"],
    ["Constant part", `${decibels(20 * Math.log10(Math.max(1e-7, Math.abs(kit.dc))))} dBFS`, Math.abs(kit.dc) < 0.001, "there is an offset in a mic: high-pass it"],
  ]; // prettier-ignore
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

/** Deliver: render the kit, the stems and the song as an archive; checks of what was rendered. */
export function DeliverBench() {
  const id = useSong((s) => s.id);
  const song = useSong((s) => s.song!);
  const current = useSong((s) => s.task);
  const [stems, setStems] = useState(true);
  const [buses, setBuses] = useState(false);
  const [format, setFormat] = useState<string>("wav24");
  const [last, setLast] = useState<Task | null>(null);
  const running = current?.kind === "export" && (current.state === "running" || current.state === "waiting");
  useEffect(() => {
    let open = true;
    api.listTasks(id).then(
      (tasks) => open && setLast(tasks.find((t) => t.kind === "export" && t.state === "done") ?? null),
      () => {}, // the list is a convenience; the export itself tells its errors
    );
    return () => {
      open = false;
    };
  }, [id, current?.state]);
  if (song.mics.length === 0)
    return <Nothing>There is nothing to deliver yet: bring files in in Gather.</Nothing>;
  const result = last?.result as {
    files?: { id: string; name: string; byteLength: number }[];
    kit?: Measurement;
  } | null;
  return (
    <div className="bench-columns">
      <div className="evidence scrolls">
        <h2>Checks of the last render</h2>
        {result?.kit ? (
          <Table size="sm" className="mic-table" aria-label="Checks">
            <tbody>
              {checksOf(result.kit).map(([name, figure, well, advice]) => (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  <td className="number">{figure}</td>
                  <td className={well ? "well" : "warn"}>{well ? "fine" : advice}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        ) : (
          <p className="lead">
            Render the kit; then its loudness, true peak, clipping and mono are checked here.
          </p>
        )}
        {result?.kit && result.kit.truePeakDb > -1 && <LowerKit by={result.kit.truePeakDb + 1} />}
        {result?.files && (
          <>
            <h2>Files</h2>
            <Table size="sm" className="mic-table" aria-label="Rendered files">
              <tbody>
                {result.files.map((f) => (
                  <tr key={f.id}>
                    <td>
                      <a href={`/api/files/${f.id}`} download={f.name}>
                        <Download aria-hidden /> {f.name}
                      </a>
                    </td>
                    <td className="number">{megabytes(f.byteLength)}</td>
                  </tr>
                ))}
              </tbody>
            </Table>
          </>
        )}
      </div>
      <aside className="settings">
        <section className="panel">
          <header>
            <h3>Render</h3>
          </header>
          <Form.Check
            id="stems"
            label="Stems: every mic after its chain"
            checked={stems}
            onChange={(e) => setStems(e.target.checked)}
          />
          <Form.Check id="buses" label="Buses" checked={buses} onChange={(e) => setBuses(e.target.checked)} />
          <div className="param">
            <label htmlFor="format">Format</label>
            <Form.Select id="format" size="sm" value={format} onChange={(e) => setFormat(e.target.value)}>
              {formats.map(([value, name]) => (
                <option key={value} value={value}>
                  {name}
                </option>
              ))}
            </Form.Select>
          </div>
          {running ? (
            <>
              <ProgressBar
                now={100 * current.progress}
                label={`${Math.round(100 * current.progress)} %`}
                aria-label="Rendering"
              />
              <Button
                size="sm"
                variant="outline-secondary"
                onClick={() => void useSong.getState().stopTask()}
              >
                Stop
              </Button>
            </>
          ) : (
            <Button onClick={() => void useSong.getState().run("export", { stems, buses, format })}>
              Render the kit
            </Button>
          )}
          {current?.kind === "export" && current.state === "cancelled" && (
            <p className="hint">{current.message}</p>
          )}
        </section>
        <section className="panel">
          <header>
            <h3>The whole song</h3>
          </header>
          <p>
            One archive with all settings and the files as they came in. Imported again it is the same song.
          </p>
          <Button
            variant="outline-primary"
            onClick={() => void allSaved().then(() => window.location.assign(`/api/songs/${id}/archive`))}
          >
            <Download aria-hidden /> Song archive
          </Button>
        </section>
      </aside>
    </div>
  );
}
