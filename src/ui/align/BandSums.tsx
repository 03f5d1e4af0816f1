"use client";
import { useMemo } from "react";
import { asRecorded, sumByBand, type PairSetting, type PairSpectra } from "../../core/align/bands";
import { signed } from "../shared/format";

const hertz = (f: number): string => (f >= 1000 ? `${f / 1000}k` : String(f));
/** Gain of a sum on a bar of 100 %: from -12 to +3 dB. */
const share = (db: number): number => Math.max(0, Math.min(1, (db + 12) / 15));

/** The sum of both mics by band, as recorded and as set, and how alike the mics are there. */
export function BandSums({ spectra, setting }: { spectra: PairSpectra; setting: PairSetting }) {
  const before = useMemo(() => sumByBand(spectra, asRecorded), [spectra]);
  const now = sumByBand(spectra, setting);
  return (
    <table className="band-sums" aria-label="Sum of both mics by band">
      <thead>
        <tr>
          <th>Hz</th>
          {now.map((b) => (
            <th key={b.from}>
              {hertz(b.from)}–{hertz(b.to)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <tr>
          <th>recorded</th>
          {before.map((b) => (
            <td key={b.from}>{signed(b.gainDb, 1)}</td>
          ))}
        </tr>
        <tr className="now">
          <th title="Energy of the sum over both apart: +3 dB in phase, below 0 they take from each other">
            now, dB
          </th>
          {now.map((b, i) => (
            <td
              key={b.from}
              className={b.gainDb < -1 ? "against" : b.gainDb > before[i]!.gainDb + 0.5 ? "better" : ""}
            >
              <span className="bar" style={{ height: `${100 * share(b.gainDb)}%` }} aria-hidden />
              <span>{signed(b.gainDb, 1)}</span>
            </td>
          ))}
        </tr>
        <tr>
          <th title="How alike both mics are there from stroke to stroke">alike</th>
          {now.map((b) => (
            <td key={b.from}>{Math.round(100 * b.coherence)} %</td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}
