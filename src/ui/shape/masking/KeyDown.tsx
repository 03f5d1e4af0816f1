"use client";
import { useMemo } from "react";
import { Button } from "react-bootstrap";
import type { MaskingJudged } from "../../../contract";
import { keyedDown, keyOf } from "../../../core/masking/keyDown";
import { keptOver } from "../../../core/masking/masking";
import { depthFor, depthNeeded } from "../../../core/masking/moves";
import { number } from "../../../core/params";
import { nameOf, type Owner } from "../../../core/song/graph";
import { ParamField } from "../../shared/ParamField";
import { percent, shortName } from "../../shared/format";
import { useSong } from "../../shared/songStore";

const wantedSpec = number("Shall keep", "%", 30, 98, 80, "Share of its loudness that a stroke shall keep.");

interface Props {
  readonly of: Owner;
  readonly by: Owner;
  readonly value: MaskingJudged;
  readonly wanted: number;
  readonly setWanted: (wanted: number) => void;
}

/** What covers comes down at every stroke, as deep as nine of ten need it. */
export function KeyDown({ of, by, value, wanted, setWanted }: Props) {
  const song = useSong((s) => s.song!);
  const [own, other] = [shortName(nameOf(of)), shortName(nameOf(by))];
  const depth = useMemo(() => depthFor(value.heard.map((h) => depthNeeded(h, wanted))), [value, wanted]);
  const [before, after] = useMemo(
    () => [keptOver(value.heard).whole, keptOver(value.heard, { of: () => 0, by: () => -depth }).whole],
    [value, depth],
  );
  const key = keyOf(song, of, by);
  const take = () => {
    const operation = keyedDown(song, of, by, depth, value.keyLevels);
    if (operation)
      useSong.getState().change(`${other} keyed down by ${own}, ${depth.toFixed(1)} dB`, operation);
  };
  return (
    <section className="panel" aria-label="Keyed down">
      <h3>Keyed down</h3>
      <ParamField
        spec={wantedSpec}
        value={Math.round(100 * wanted)}
        sampleRate={song.sampleRate}
        onChange={(v) => setWanted(Number(v) / 100)}
      />
      <p className="figure" data-testid="key-depth">
        {depth === 0
          ? `At nine of ten ${value.strokes ? "strokes" : "moments"} ${own} keeps that already.`
          : `${depth.toFixed(1)} dB are enough at nine of ten ${value.strokes ? "strokes" : "moments"}: ${percent(before!)} → ${percent(after!)}`}
      </p>
      <p className="hint">
        {key
          ? `A compressor at the end of ${other} that listens to ${shortName(nameOf(key))} and turns down by no more than this.`
          : `${other} cannot listen to ${own}: it would wait for itself.`}
      </p>
      <Button size="sm" disabled={!key || depth === 0} onClick={take}>
        Key {other} down
      </Button>
    </section>
  );
}
