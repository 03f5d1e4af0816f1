import { expect, test } from "@jest/globals";
import { demoSampleRate, makeDemo } from "../../../demo/demoSong";
import { writeWav } from "../../core/file/wavWrite";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { bring, withDatabase } from "../testing/database";
import { createSong } from "../useCases/createSong";
import { analyseSong } from "./analyseSong";
import { noTask } from "./turn";

const seconds = 6;
const used = [0, 1, 2, 3, 4, 9, 10, 11];

/** Some seconds of the demo's kick, snare, hat, overheads and a room; two files say nothing by their names, so that all are looked at for their sound. */
async function shortKit(): Promise<string> {
  const id = await createSong("analysed");
  const { mics } = makeDemo();
  for (const n of used) {
    const { spec, channels } = mics[n]!;
    const kept = channels.map((x) => x.subarray(0, seconds * demoSampleRate));
    const name = n === 1 || n === 4 ? `take ${n}.wav` : spec.file;
    await bring(id, name, writeWav({ sampleRate: demoSampleRate, channels: kept }, "wav24"));
  }
  return id;
}

withDatabase("an analysis", () => {
  test("finds the same in audio that lies on the disk as in memory", async () => {
    const id = await shortKit();
    const found = [];
    for (const held of [Infinity, 0]) {
      await analyseSong(id, noTask, "Analyse", held);
      const { document, facts } = (await findSong(pool(), id))!;
      found.push({ document, facts });
    }
    expect(found[0]!.document.hits.length).toBeGreaterThan(20);
    expect(found[1]).toEqual(found[0]);
  });
});
