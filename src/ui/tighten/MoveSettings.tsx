"use client";
import { useMemo } from "react";
import { Button, Form } from "react-bootstrap";
import { number, type NumberParam } from "../../core/params";
import {
  drumPieces,
  grids,
  type Grid,
  type Piece,
  type Song,
  type TightenSettings,
} from "../../core/song/song";
import { riskOfAlone, seamsOfDrum } from "../../core/tighten/alone";
import { unsureBars } from "../../core/tighten/unsureBars";
import { tightenParams } from "../../core/song/limits";
import { useSong } from "../shared/songStore";
import { pieceNames } from "../../core/song/pieceNames";
import { ParamField } from "../shared/ParamField";
import { SectionPicker } from "../shared/SectionPicker";
import { useSection } from "../shared/sectionChoice";

const { strength, swing, window: leave, largest: largestSpec } = tightenParams;
/** Shares are shown in per cent. */
const percent = (spec: NumberParam): NumberParam => ({
  ...spec,
  unit: "%",
  min: 100 * spec.min,
  max: 100 * spec.max,
  default: 100 * spec.default,
});
const strengthSpec = percent(strength);
const swingSpec = percent(swing);
const windowSpec = leave;
const drumSpec = number("Of the strength", "%", 0, 100, 100, "How much of the strength this drum takes.");

interface Props {
  readonly song: Song;
  readonly settings: TightenSettings;
  /** Takes some settings; a gesture under way is `done` when it ends. */
  readonly store: (next: Partial<TightenSettings>, done: boolean) => void;
}

/** Moves of a drum's own mics beyond which its two places are heard as two strokes, s (common practice, no source). */
const heardTwice = 0.006;

/** Whether a drum is moved alone, and what that does. */
function AloneChoice({ piece, song, settings, store }: Props & { readonly piece: Piece }) {
  const events = useSong((s) => s.facts.events);
  const alone = settings.alone.includes(piece);
  const risk = useMemo(() => {
    if (!alone || !song.tempo) return null;
    const { hits, tempo, sections, edits, sampleRate } = song;
    const seams = seamsOfDrum(piece, hits, tempo, settings, sections, edits, sampleRate);
    return riskOfAlone(piece, seams, hits, Object.values(events), sampleRate);
  }, [alone, song, settings, piece, events]);
  return (
    <>
      <Form.Check
        type="switch"
        id={`alone-${piece}`}
        label={`${pieceNames[piece]} alone`}
        checked={alone}
        onChange={() =>
          store(
            { alone: alone ? settings.alone.filter((x) => x !== piece) : [...settings.alone, piece] },
            true,
          )
        }
      />
      {risk && (
        <p className="warn" role="status">
          {risk.apart > heardTwice ? "It will be heard twice: its" : "Its"} own mics lie up to{" "}
          {(1000 * risk.apart).toFixed(1)} ms beside the overheads and rooms
          {risk.loudest
            ? `, and the ${pieceNames[risk.loudest.piece].toLowerCase()} mic hears it at ${risk.loudest.db.toFixed(0).replace("-", "−")} dB`
            : ""}
          .
        </p>
      )}
    </>
  );
}

/** How far strokes are moved: for the song or a section, by drum, and what stays. */
export function MoveSettings({ song, settings, store }: Props) {
  const { sampleRate } = song;
  const section = useSection();
  const chosen = song.sections.find((s) => s.id === section) ?? null;
  const own = chosen ? (settings.bySection[chosen.id] ?? {}) : {};
  const here = { ...settings, ...own };
  const set = (
    next: Partial<Pick<TightenSettings, "strength" | "grid" | "swing" | "window" | "largest">>,
    done: boolean,
  ) =>
    store(chosen ? { bySection: { ...settings.bySection, [chosen.id]: { ...own, ...next } } } : next, done);
  const unsure = useMemo(
    () => unsureBars(song.hits, song.tempo, settings, song.sections),
    [song.hits, song.tempo, settings, song.sections],
  );
  const pieces = drumPieces.filter((p) => song.hits.some((h) => h.piece === p));
  const field = (spec: typeof strengthSpec, value: number, take: (v: number, done: boolean) => void) => (
    <ParamField
      spec={spec}
      value={value}
      sampleRate={sampleRate}
      onChange={(v, done) => take(Number(v), done)}
    />
  );
  return (
    <>
      <section className="panel">
        <header>
          <h3>Move to the grid</h3>
          <SectionPicker differs={Object.keys(settings.bySection)} />
        </header>
        {unsure.length > 0 && (
          <p className="warn" role="status">
            {unsure.length === 1 ? "Bar" : "Bars"} {unsure.map((b) => b.bar).join(", ")}: the strokes fit no
            line of the grid, so they stay as played. Correct the beats or choose another grid.
          </p>
        )}
        {field(strengthSpec, 100 * here.strength, (v, done) => set({ strength: v / 100 }, done))}
        <div className="param">
          <label htmlFor="grid">Grid</label>
          <Form.Select
            id="grid"
            size="sm"
            value={here.grid}
            onChange={(e) => set({ grid: e.target.value as Grid }, true)}
          >
            {grids.map((g) => (
              <option key={g} value={g}>
                {g.replace("T", " triplets")}
              </option>
            ))}
          </Form.Select>
        </div>
        {field(swingSpec, 100 * here.swing, (v, done) => set({ swing: v / 100 }, done))}
        {field(windowSpec, here.window, (v, done) => set({ window: v }, done))}
        {field(largestSpec, here.largest, (v, done) => set({ largest: v }, done))}
        {chosen && Object.keys(own).length > 0 && (
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() =>
              store(
                {
                  bySection: Object.fromEntries(
                    Object.entries(settings.bySection).filter(([id]) => id !== chosen.id),
                  ),
                },
                true,
              )
            }
          >
            As in the rest of the song
          </Button>
        )}
        {song.edits.length > 0 && (
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => store({ strength: 0, bySection: {} }, true)}
          >
            Take all moves back
          </Button>
        )}
      </section>
      <section className="panel">
        <header>
          <h3>What stays of the playing</h3>
        </header>
        <Form.Check
          type="switch"
          id="keep-lean"
          label="Keep each drum's lean"
          checked={settings.keepLean}
          onChange={() => store({ keepLean: !settings.keepLean }, true)}
        />
        <div className="param">
          <label htmlFor="between">Between the leading strokes</label>
          <Form.Select
            id="between"
            size="sm"
            value={settings.between}
            onChange={(e) => store({ between: e.target.value as TightenSettings["between"] }, true)}
          >
            <option value="nearest">go with the nearest</option>
            <option value="spread">share the moves</option>
          </Form.Select>
        </div>
      </section>
      <section className="panel">
        <header>
          <h3>By drum</h3>
          <small className="quiet">ticked ones decide</small>
        </header>
        {pieces.map((p) => {
          const leads = settings.leaders.includes(p);
          return (
            <div className="drum-share" key={p}>
              <Form.Check
                aria-label={`${pieceNames[p]} leads`}
                checked={leads}
                onChange={() =>
                  store(
                    { leaders: leads ? settings.leaders.filter((x) => x !== p) : [...settings.leaders, p] },
                    true,
                  )
                }
              />
              <ParamField
                spec={{ ...drumSpec, label: pieceNames[p] }}
                value={leads ? 100 * (settings.byPiece[p] ?? 1) : 0}
                sampleRate={sampleRate}
                disabled={!leads}
                onChange={(v, done) =>
                  store({ byPiece: { ...settings.byPiece, [p]: Number(v) / 100 } }, done)
                }
              />
            </div>
          );
        })}
        <p className="hint">
          A drum may also be moved in its own mics only, against what all the others hear of it.
        </p>
        {pieces
          .filter((p) => song.mics.some((m) => m.piece === p && !m.silent))
          .map((p) => (
            <AloneChoice key={p} piece={p} song={song} settings={settings} store={store} />
          ))}
      </section>
    </>
  );
}
