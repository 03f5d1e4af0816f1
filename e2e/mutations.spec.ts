// Damaged files by the route that the page sends them by: none ends in an error of ours, none hangs, none claims what is not there.
// `JUBO_MUTATIONS=10000` makes it long, `JUBO_SEED` another.
import { expect, test, type APIRequestContext } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { randomSource } from "../src/core/signal/random";
import { noiseWav } from "./kit";
import { readSong, sendFile } from "./songApi";

const count = Number(process.env["JUBO_MUTATIONS"] ?? 120);
const next = randomSource(Number(process.env["JUBO_SEED"] ?? 3));
const below = (n: number): number => Math.floor(next() * n);

/** Whole files of every form, by the reference programs. */
function wholeFiles(): { readonly name: string; readonly bytes: Buffer }[] {
  const folder = mkdtempSync(join(tmpdir(), "jubo-mutations-"));
  const wav = noiseWav(3000, "wav24", 1);
  const made = ["a.aif", "a.flac"].map((name) => {
    execFileSync("sox", ["-t", "wav", "-", join(folder, name)], { input: wav });
    return { name, bytes: readFileSync(join(folder, name)) };
  });
  rmSync(folder, { recursive: true });
  return [{ name: "a.wav", bytes: wav }, { name: "f.wav", bytes: noiseWav(3000, "wav32f", 2) }, ...made];
}

/** Some bytes changed, most of them in the head; cut, doubled or filled with nothing now and then. */
function damaged(bytes: Buffer): Buffer {
  let out = Buffer.from(bytes);
  for (let n = 1 + below(6); n > 0; n--)
    out[below(2) ? below(Math.min(120, out.length)) : below(out.length)] = below(256);
  const how = below(8);
  if (how === 0) out = out.subarray(0, 1 + below(out.length));
  if (how === 1) out = Buffer.concat([out, out.subarray(below(out.length))]);
  if (how === 2) out.fill(0, below(out.length));
  return out;
}

/** A new song now and then, so that there is room. */
const newSong = async (request: APIRequestContext) =>
  ((await (await request.post("/api/songs", { data: { title: "Damaged" } })).json()) as { id: string }).id;

test("damaged files are taken or refused in words, and what is taken is what came", async ({ request }) => {
  test.setTimeout(60_000 + 1000 * count);
  const whole = wholeFiles();
  const told = { taken: 0, refused: 0 };
  let id = "";
  let slowest = 0;
  const wrong: string[] = [];
  for (let n = 0; n < count; n++) {
    if (n % 50 === 0) id = await newSong(request);
    const from = whole[n % whole.length]!;
    const bytes = damaged(from.bytes);
    const name = `${n}${from.name}`;
    const begun = performance.now();
    const answer = await sendFile(request, id, name, bytes);
    slowest = Math.max(slowest, performance.now() - begun);
    const text = await answer.text();
    if (answer.status() >= 500) wrong.push(`${name}: ${text}`);
    if (!answer.ok()) {
      told.refused++;
      if (!text.includes(name.split(".")[0]!)) wrong.push(`${name} is not named in: ${text}`);
      continue;
    }
    told.taken++;
    const mic = (await readSong(request, id)).song.mics.find((m) => m.file === name);
    if (!mic || mic.frames * mic.channels > 8 * bytes.length) {
      wrong.push(`${name} holds more than was sent`);
      continue;
    }
    const original = await request.get(`/api/audio/${mic.audio}`);
    // What is played of a file of another rate, and of FLAC, is a copy.
    const isOriginal = !from.name.endsWith("flac") && !text.includes("converted from");
    if (isOriginal && !(await original.body()).equals(bytes)) wrong.push(`${name} is not what came`);
  }
  // Once, for all of them: each expectation costs the runner more than the last.
  expect(wrong).toEqual([]);
  process.stdout.write(
    `    ${count} damaged files: ${told.taken} taken, ${told.refused} refused, the slowest after ${Math.round(slowest)} ms\n`,
  );
  expect(slowest).toBeLessThan(20_000);
});
