import { useMemo } from "react";
import { Button, Form } from "react-bootstrap";
import type { NumberParam } from "../../../core/params";
import { tightenParams } from "../../../core/song/limits";
import { grids, type Grid, type TightenSettings } from "../../../core/song/song";
import { unsureBars } from "../../../core/tighten/unsureBars";
import { ParamField } from "../../shared/ParamField";
import { useSection } from "../../shared/sectionChoice";
import { SectionPicker } from "../../shared/SectionPicker";
import type { MovePanelProps } from "./movePanel";

/** Shares are shown in per cent. */
const percent = (spec: NumberParam): NumberParam => ({
  ...spec,
  unit: "%",
  min: 100 * spec.min,
  max: 100 * spec.max,
  default: 100 * spec.default,
});
const { window: windowSpec, largest: largestSpec } = tightenParams;
const strengthSpec = percent(tightenParams.strength);
const swingSpec = percent(tightenParams.swing);

type OfStretch = Partial<Pick<TightenSettings, "strength" | "grid" | "swing" | "window" | "largest">>;

/** Bars whose strokes fit no line. */
function UnsureBars({ song, settings }: Omit<MovePanelProps, "store">) {
  const { hits, tempo, sections } = song;
  const unsure = useMemo(
    () => unsureBars(hits, tempo, settings, sections),
    [hits, tempo, settings, sections],
  );
  if (unsure.length === 0) return null;
  return (
    <p className="warn" role="status">
      {unsure.length === 1 ? "Bar" : "Bars"} {unsure.map((b) => b.bar).join(", ")}: the strokes fit no line of
      the grid, so they stay as played. Correct the beats or choose another grid.
    </p>
  );
}

function GridChoice({ grid, take }: { grid: Grid; take: (grid: Grid) => void }) {
  return (
    <div className="param">
      <label htmlFor="grid">Grid</label>
      <Form.Select id="grid" size="sm" value={grid} onChange={(e) => take(e.target.value as Grid)}>
        {grids.map((g) => (
          <option key={g} value={g}>
            {g.replace("T", " triplets")}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}

/** How far strokes are moved to which grid: in the song, or in a section. */
export function GridPanel({ song, settings, store }: MovePanelProps) {
  const section = useSection();
  const { bySection } = settings;
  const chosen = song.sections.find((s) => s.id === section) ?? null;
  const own = chosen ? (bySection[chosen.id] ?? {}) : {};
  const here = { ...settings, ...own };
  const set = (next: OfStretch, done: boolean) =>
    store(chosen ? { bySection: { ...bySection, [chosen.id]: { ...own, ...next } } } : next, done);
  const asInSong = () => {
    const { [chosen!.id]: _, ...others } = bySection;
    store({ bySection: others }, true);
  };
  const field = (spec: NumberParam, value: number, take: (v: number) => OfStretch) => (
    <ParamField
      spec={spec}
      value={value}
      sampleRate={song.sampleRate}
      onChange={(v, done) => set(take(Number(v)), done)}
    />
  );
  return (
    <section className="panel">
      <header>
        <h3>Move to the grid</h3>
        <SectionPicker differs={Object.keys(bySection)} />
      </header>
      <UnsureBars song={song} settings={settings} />
      {field(strengthSpec, 100 * here.strength, (v) => ({ strength: v / 100 }))}
      <GridChoice grid={here.grid} take={(grid) => set({ grid }, true)} />
      {field(swingSpec, 100 * here.swing, (v) => ({ swing: v / 100 }))}
      {field(windowSpec, here.window, (v) => ({ window: v }))}
      {field(largestSpec, here.largest, (v) => ({ largest: v }))}
      {chosen && Object.keys(own).length > 0 && (
        <Button size="sm" variant="outline-secondary" onClick={asInSong}>
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
  );
}
