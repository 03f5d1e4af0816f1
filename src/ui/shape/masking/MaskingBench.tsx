"use client";
import { useMemo, useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { MaskingJudged } from "../../../contract";
import { keptOver, turnedRound } from "../../../core/masking/masking";
import { inKitOrder } from "../../../core/song/kitOrder";
import { isMic, nameOf, ownerOf, type Owner } from "../../../core/song/graph";
import { mainMic, type Song } from "../../../core/song/song";
import { api } from "../../shared/api";
import { percent, shortName } from "../../shared/format";
import { Nothing } from "../../shared/Nothing";
import { useMeasured } from "../../shared/useMeasured";
import { useSong } from "../../shared/songStore";
import { KeyDown } from "./KeyDown";
import { MaskingPictures } from "./MaskingPictures";
import { MirroredMoves } from "./MirroredMoves";

/** What can cover or be covered: mics that sound, buses of drums and groups, and music beside the kit. */
const soundsOf = (song: Song): Owner[] => [
  ...inKitOrder(
    song.mics.filter((m) => !m.silent && m.piece !== "response" && m.id !== song.referenceRecord),
  ),
  ...song.buses.filter((b) => b.output !== null),
];

/** The pair one most likely asks about: the drum on the bench, else the kick, under the music, else under the next drum. */
function likely(song: Song, chosen: string | null): { of: string; by: string } {
  const sounds = soundsOf(song);
  const own =
    sounds.find((o) => o.id === chosen && o.piece !== "context") ?? mainMic(song.mics, "kick") ?? sounds[0];
  const others = sounds.filter((o) => o.id !== own?.id);
  const music = others.find((o) => o.piece === "context");
  const low = others.find((o) => o.piece === (own?.piece === "kick" ? "floor" : "kick"));
  return { of: own?.id ?? "", by: (music ?? low ?? others[0])?.id ?? "" };
}

/** What both keep beside each other, in a sentence. */
function told({ heard, strokes }: MaskingJudged, of: Owner, by: Owner): string {
  const [own, other] = [keptOver(heard).whole, keptOver(turnedRound(heard)).whole];
  const when = `${heard.length} ${strokes ? "strokes" : "moments"}`;
  return `${shortName(nameOf(of))} keeps ${percent(own)} of its loudness beside ${shortName(nameOf(by))}, which keeps ${percent(other)}; over ${when}`;
}

interface Pair {
  readonly of: string;
  readonly by: string;
}
type Way = "move" | "key";
const ways: readonly (readonly [Way, string])[] = [
  ["move", "Mirrored moves"],
  ["key", "Keyed down"],
];

interface ChoiceProps {
  readonly pair: Pair;
  readonly side: keyof Pair;
  readonly label: string;
  readonly choose: (pair: Pair) => void;
}
function SoundChoice({ pair, side, label, choose }: ChoiceProps) {
  const song = useSong((s) => s.song!);
  const sounds = useMemo(() => soundsOf(song), [song]);
  return (
    <Form.Select
      size="sm"
      aria-label={label}
      value={pair[side]}
      onChange={(e) => choose({ ...pair, [side]: e.target.value })}
    >
      {sounds.map((o) => (
        <option key={o.id} value={o.id}>
          {isMic(o) ? shortName(o.file) : `${o.name} (bus)`}
        </option>
      ))}
    </Form.Select>
  );
}

/** The chosen pair, and what was measured of the pair that was asked about. */
function useMasking() {
  const song = useSong((s) => s.song!);
  const mic = useSong((s) => s.mic);
  const [pair, setPair] = useState(() => likely(song, mic));
  const [asked, setAsked] = useState(pair);
  /** Measurements made: what was turned beside the last one says nothing of the next. */
  const [count, setCount] = useState(0);
  const measured = useMeasured((id) => api.judgeMasking(id, pair.of, pair.by));
  const { value, busy } = measured;
  const measure = async () => {
    setAsked(pair);
    await measured.measure();
    setCount((n) => n + 1);
  };
  const same = asked.of === pair.of && asked.by === pair.by;
  const changed = measured.of !== song ? "The song has changed since" : null;
  const stale = value && (same ? changed : "Another pair is chosen");
  const [of, by] = [ownerOf(song, asked.of), ownerOf(song, asked.by)];
  return { pair, setPair, measure, busy, stale, count, found: value && of && by ? { value, of, by } : null };
}

/** Masking: where one mic, bus or piece of music covers another, and moves that make room. */
export function MaskingBench({ back }: { back: () => void }) {
  const [way, setWay] = useState<Way>("move");
  const { pair, setPair, measure, busy, stale, count, found } = useMasking();
  return (
    <>
      <div className="bench-head masking-head">
        <Button size="sm" variant="outline-primary" onClick={back}>
          Back to the chains
        </Button>
        <span className="masking-pair">
          <SoundChoice pair={pair} side="of" label="What is covered" choose={setPair} />{" "}
          <span className="quiet">under</span>{" "}
          <SoundChoice pair={pair} side="by" label="What covers it" choose={setPair} />
        </span>
        <Button size="sm" disabled={busy || pair.of === pair.by} onClick={() => void measure()}>
          {busy ? "Measuring …" : found ? "Measure again" : "Measure"}
        </Button>
        <ButtonGroup size="sm" aria-label="Make room by">
          {ways.map(([name, label]) => (
            <Button
              key={name}
              variant="outline-primary"
              active={way === name}
              aria-pressed={way === name}
              onClick={() => setWay(name)}
            >
              {label}
            </Button>
          ))}
        </ButtonGroup>
      </div>
      {found ? (
        <>
          <h2>
            Masking <small data-testid="masking">{told(found.value, found.of, found.by)}</small>
          </h2>
          {stale && <p className="warn">{stale}: measure again to see it.</p>}
          <Room key={count} {...found} way={way} />
        </>
      ) : (
        <Nothing>
          {busy
            ? "Both are rendered as they go into the kit and read at every stroke …"
            : "Where does one cover the other? Choose two and measure: both as they go into the kit, at every stroke of the first."}
        </Nothing>
      )}
    </>
  );
}

interface RoomProps {
  readonly of: Owner;
  readonly by: Owner;
  readonly value: MaskingJudged;
  readonly way: Way;
}

/** The pictures, and beside them what makes room, as it is turned. */
function Room({ of, by, value, way }: RoomProps) {
  const [move, setMove] = useState(value.move ?? { frequency: 100, q: 1.4, cut: 0, lift: 0 });
  const [wanted, setWanted] = useState(0.8);
  return (
    <div className="bench-columns">
      <div className="evidence">
        <MaskingPictures
          of={of}
          by={by}
          value={value}
          way={way}
          move={move}
          setMove={setMove}
          wanted={wanted}
        />
      </div>
      <aside className="settings">
        {way === "move" ? (
          <MirroredMoves of={of} by={by} value={value} move={move} setMove={setMove} />
        ) : (
          <KeyDown of={of} by={by} value={value} wanted={wanted} setWanted={setWanted} />
        )}
      </aside>
    </div>
  );
}
