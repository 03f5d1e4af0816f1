"use client";
import { worthTelling } from "../../core/align/chainCheck";
import { processorType } from "../../core/processors";
import type { Mic } from "../../core/song/song";
import { shortName, signed } from "../shared/format";
import { useEvidence } from "../shared/evidenceClient";

/** Measures a pair again at the end of both chains; a filter that has turned it apart is named. */
export function ChainWarning({
  main,
  second,
  times,
  sampleRate,
}: {
  main: Mic;
  second: Mic;
  times: readonly number[];
  sampleRate: number;
}) {
  const side = (m: Mic) => ({ audio: m.audio!, start: m.start, chain: m.chain });
  const { value } = useEvidence("chains", JSON.stringify([main.chain, second.chain, times.length]), {
    main: side(main),
    second: side(second),
    times,
    sampleRate,
  });
  if (!value) return null;
  const { alignedDb, endDb, cause, strokes } = value;
  const owner = [main, second].find((m) => m.chain.some((p) => p.id === cause));
  const type = owner?.chain.find((p) => p.id === cause)?.type;
  const lost = endDb < alignedDb - worthTelling;
  return (
    <p className={lost ? "trouble" : "hint"} role={lost ? "alert" : undefined}>
      {lost
        ? `Behind the chains the low end of the sum falls from ${signed(alignedDb, 1)} to ${signed(endDb, 1)} dB${
            owner && type
              ? `: the ${processorType(type).label} of ${shortName(owner.file)} turns them apart`
              : ""
          }.`
        : `At the end of both chains the low end still sums to ${signed(endDb, 1)} dB`}{" "}
      <small>over {strokes} strokes</small>
    </p>
  );
}
