"use client";
import { Button, ButtonGroup } from "react-bootstrap";
import { layerBands, type BandShare } from "../../../core/layers/layerBalance";
import type { LayerMic, Mic, Song } from "../../../core/song/song";
import { levelParam } from "../../../core/song/limits";
import { useEvidence } from "../../shared/evidenceClient";
import { percent, shortName, signed } from "../../shared/format";
import { ParamField } from "../../shared/ParamField";
import { useSong } from "../../shared/songStore";
import { besideAsk } from "./besideAsk";
import { leavePart, partOf, parts } from "./layerMoves";

interface Props {
  readonly song: Song;
  readonly main: Mic;
  readonly mic: LayerMic;
}

/** Share of a sum of two energies that the second has. */
const shareOf = (firstDb: number, secondDb: number): number => 1 / (1 + 10 ** ((firstDb - secondDb) / 10));

interface BandProps {
  readonly band: (typeof layerBands)[number];
  /** Not there while it is measured. */
  readonly found: BandShare | undefined;
}
/** One band: what mic and layer give to it, each and together. */
function BandRow({ band: { label, from, to }, found }: BandProps) {
  const share = found ? shareOf(found.micDb, found.layerDb) : 0;
  return (
    <tr>
      <th scope="row">
        {label} <small className="quiet">{to < Infinity ? `${from} to ${to} Hz` : `from ${from} Hz`}</small>
      </th>
      <td>{found ? `${signed(found.micDb, 1)} dB` : "…"}</td>
      <td>{found ? `${signed(found.layerDb, 1)} dB` : "…"}</td>
      <td>
        <span className="share" aria-hidden>
          <span style={{ inlineSize: `${100 * share}%` }} />
        </span>{" "}
        {found ? percent(share) : ""}
      </td>
      <td>{found ? `${signed(found.sumDb - found.micDb, 1)} dB` : ""}</td>
    </tr>
  );
}

/** How much of low end, body and stick comes from the mic and how much from the layer, and what the layer is left of its sound. */
export function LayerShare({ song, main, mic }: Props) {
  const beside = besideAsk(song, main, mic);
  const asked = beside.times.length > 0 ? { ...beside, gainsDb: [main.level, mic.level] as const } : null;
  const { value } = useEvidence("layerBalance", asked ? JSON.stringify(asked) : "", asked);
  const { change, preview } = useSong.getState();
  const setLevel = (level: number, done: boolean) => {
    const operation = { op: "setMic", mic: mic.id, values: { level } } as const;
    if (done) change(`Level of ${shortName(mic.file)}`, operation);
    else preview(operation);
  };
  const part = partOf(mic);
  return (
    <>
      <div className="picture-head">
        <h3>Who gives what</h3>
        <ButtonGroup size="sm" aria-label="What the layer is left of its sound">
          {parts.map(({ id, label }) => (
            <Button
              key={id}
              variant="outline-primary"
              active={part === id}
              aria-pressed={part === id}
              onClick={() => leavePart(mic, id)}
            >
              {label}
            </Button>
          ))}
        </ButtonGroup>
      </div>
      <table className="figures" aria-label="Share of mic and layer by band" data-testid="layer-share">
        <thead>
          <tr>
            <th>Band</th>
            <th>{shortName(main.file)}</th>
            <th>{shortName(mic.file)}</th>
            <th>Layer’s share</th>
            <th>Together against the mic</th>
          </tr>
        </thead>
        <tbody>
          {layerBands.map((band) => (
            <BandRow key={band.id} band={band} found={value?.bands.find((b) => b.id === band.id)} />
          ))}
        </tbody>
      </table>
      <ParamField
        spec={{ ...levelParam, label: "Level of the layer", min: -60, max: 12 }}
        value={mic.level}
        sampleRate={song.sampleRate}
        onChange={(v, done) => setLevel(Number(v), done)}
      />
    </>
  );
}
