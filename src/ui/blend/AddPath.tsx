"use client";
import { useState } from "react";
import { Dropdown, Form } from "react-bootstrap";
import { fitPath } from "../../core/blend/fitPath";
import { pathOf, recipes, sourcesOf, type Recipe } from "../../core/blend/recipes";
import { limits } from "../../core/song/limits";
import { firstOf } from "../../core/song/create";
import { allSaved, useSong } from "../shared/songStore";
import { busTrial } from "./busTrial";

/** Makes the path of a recipe, fitted to this recording: one step, or two where something else was changed while it was fitted. */
async function make(recipe: Recipe, cymbals: boolean): Promise<void> {
  const { change, history, chooseBus, tell } = useSong.getState();
  const label = `Path: ${recipe.name}`;
  const song = useSong.getState().song!;
  const { id, operation } = pathOf(song, recipe, { cymbals });
  change(label, operation);
  chooseBus(id);
  if (recipe.wishedDb === null || !useSong.getState().analysed) return;
  try {
    await allSaved();
    const bus = useSong.getState().song!.buses.find((b) => b.id === id);
    if (!bus) return;
    const withPath = useSong.getState().song;
    const compressor = firstOf(bus, "compressor")!;
    const fitted = await fitPath(
      busTrial(withPath!, useSong.getState().id, bus, compressor),
      recipe.wishedDb,
    );
    if (useSong.getState().song === withPath) {
      // What was made to be measured gives way to what was fitted, so that one step undoes it all.
      await history("undo");
      change(label, pathOf(useSong.getState().song!, recipe, { cymbals, fitted }).operation);
      chooseBus(id);
    } else if (useSong.getState().song?.buses.some((b) => b.id === id)) {
      change(`${label}, fitted`, { op: "setProcessor", owner: id, processor: compressor.id, params: fitted });
    }
  } catch (error) {
    tell(
      `The path is there, but could not be fitted: ${error instanceof Error ? error.message : String(error)}.`,
    );
  }
}

/** Parallel paths as whole recipes; each comes in at nothing and is ridden up. */
export function AddPath() {
  const song = useSong((s) => s.song!);
  const [cymbals, setCymbals] = useState(false);
  const [busy, setBusy] = useState<string | null>(null);
  const full = song.buses.length >= limits.buses;
  const add = async (recipe: Recipe) => {
    setBusy(recipe.name);
    try {
      await make(recipe, cymbals);
    } catch (error) {
      useSong.getState().tell((error as Error).message);
    }
    setBusy(null);
  };
  return (
    <Dropdown autoClose="outside">
      <Dropdown.Toggle size="sm" variant="outline-primary" disabled={full || busy !== null}>
        {busy ? `${busy}: fitting …` : "Add a path"}
      </Dropdown.Toggle>
      <Dropdown.Menu className="add-menu paths">
        <div className="px-3 py-1">
          <Form.Check
            id="path-cymbals"
            label="with the cymbals' own mics"
            checked={cymbals}
            onChange={(e) => setCymbals(e.target.checked)}
          />
        </div>
        {recipes.map((r) => {
          const count = sourcesOf(song, r, cymbals).length;
          return (
            <Dropdown.Item key={r.id} as="button" disabled={count === 0} onClick={() => void add(r)}>
              <strong>{r.name}</strong> <small>{count} mics</small>
              <br />
              <small className="quiet">{r.help}</small>
            </Dropdown.Item>
          );
        })}
      </Dropdown.Menu>
    </Dropdown>
  );
}
