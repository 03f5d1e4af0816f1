"use client";
import { Form } from "react-bootstrap";
import type { TightenSettings } from "../../../core/song/song";
import { DrumsPanel } from "./DrumsPanel";
import { GridPanel } from "./GridPanel";
import type { MovePanelProps } from "./movePanel";

function KeepPanel({ settings, store }: Omit<MovePanelProps, "song">) {
  return (
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
  );
}

/** How far strokes are moved: for the song or a section, by drum, and what stays. */
export function MoveSettings({ song, settings, store }: MovePanelProps) {
  return (
    <>
      <GridPanel song={song} settings={settings} store={store} />
      <KeepPanel settings={settings} store={store} />
      <DrumsPanel song={song} settings={settings} store={store} />
    </>
  );
}
