"use client";
import { Button } from "react-bootstrap";
import { unrelatedLoss } from "../../core/align/monoCheck";
import { api } from "../shared/api";
import { shortName, signed } from "../shared/format";
import { useSong } from "../shared/songStore";
import { useMeasured } from "../shared/useMeasured";
import { BandTable, BarCell } from "./BandTable";

/** What folding the kit to mono takes, by band, and the mic that causes it. */
export function MonoCheck() {
  const song = useSong((s) => s.song!);
  const { value: measured, of, busy, measure } = useMeasured(api.measureMono);
  const name = (mic: string) => shortName(song.mics.find((m) => m.id === mic)?.file ?? "");
  const old = of !== null && (of.mics !== song.mics || of.hits !== song.hits);
  return (
    <section className="mono-check" aria-label="Mono check">
      <header>
        <h3>Folded to mono</h3>
        <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => void measure()}>
          {busy ? "Measuring …" : measured ? "Measure again" : "Measure"}
        </Button>
        <span className="hint">
          {measured
            ? `over ${measured.strokes} strokes${old ? "; something was changed since" : ""}. 0 dB: nothing lost; −3: the sides are unrelated; less: they cancel.`
            : "What is lost by band when left and right become one, and by which mic."}
        </span>
      </header>
      {measured && (
        <BandTable label="Loss in mono by band" bands={measured.bands} old={old}>
          <tr className="now">
            <th>lost, dB</th>
            {measured.bands.map((b) => (
              <BarCell
                key={b.from}
                share={1 + b.lossDb / 6}
                className={b.lossDb < unrelatedLoss - 0.5 ? "against" : ""}
              >
                {signed(b.lossDb, 1)}
              </BarCell>
            ))}
          </tr>
          <tr>
            <th>by</th>
            {measured.bands.map((b) => (
              <td
                key={b.from}
                title={b.cause ? `Without ${name(b.cause.mic)}: ${signed(b.cause.gainDb, 1)} dB` : ""}
              >
                {b.cause ? name(b.cause.mic) : ""}
              </td>
            ))}
          </tr>
        </BandTable>
      )}
    </section>
  );
}
