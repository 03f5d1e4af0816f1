"use client";
import { useMemo } from "react";
import { asRecorded, sumByBand, type PairSetting, type PairSpectra } from "../../core/align/bands";
import { signed } from "../shared/format";
import { BandTable, BarCell } from "./BandTable";

/** Gain of a sum on a bar of 100 %: from -12 to +3 dB. */
const share = (db: number): number => (db + 12) / 15;

/** The sum of both mics by band, as recorded and as set, and how alike the mics are there. */
export function BandSums({ spectra, setting }: { spectra: PairSpectra; setting: PairSetting }) {
  const before = useMemo(() => sumByBand(spectra, asRecorded), [spectra]);
  const now = sumByBand(spectra, setting);
  return (
    <BandTable label="Sum of both mics by band" bands={now}>
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
        {now.map((b) => (
          <BarCell key={b.from} share={share(b.gainDb)} className={b.gainDb < -1 ? "against" : ""}>
            {signed(b.gainDb, 1)}
          </BarCell>
        ))}
      </tr>
      <tr>
        <th title="How alike both mics are there from stroke to stroke">alike</th>
        {now.map((b) => (
          <td key={b.from}>{Math.round(100 * b.coherence)} %</td>
        ))}
      </tr>
    </BandTable>
  );
}
