import { expect, type APIRequestContext, type Page } from "@playwright/test";
import { micFile } from "../demo/demoSong";
import type { SimulatedMic } from "../demo/simulate";
import type { Facts } from "../src/core/facts/facts";
import type { Song } from "../src/core/song/song";

export interface Opened {
  song: Song;
  facts: Facts | null;
}
export const readSong = async (request: APIRequestContext, id: string): Promise<Opened> =>
  (await (await request.get(`/api/songs/${id}`)).json()) as Opened;

/** Starts a task and waits until it is done. */
export async function runTask(
  request: APIRequestContext,
  id: string,
  kind: string,
  options: object,
): Promise<void> {
  const task = (await (await request.post(`/api/songs/${id}/tasks`, { data: { kind, options } })).json()) as {
    id: string;
  };
  const state = async () =>
    ((await (await request.get(`/api/tasks/${task.id}`)).json()) as { state: string }).state;
  await expect.poll(state, { timeout: 120_000 }).toBe("done");
}

/** A new song of simulated mics, analysed. */
export async function deliverSong(
  request: APIRequestContext,
  title: string,
  mics: readonly SimulatedMic[],
  rate: number,
): Promise<string> {
  const made = await request.post("/api/songs", { data: { title } });
  const { id } = (await made.json()) as { id: string };
  for (const m of mics)
    await request.put(`/api/songs/${id}/files?name=${encodeURIComponent(m.spec.file)}`, {
      data: Buffer.from(micFile(m, rate)),
    });
  await runTask(request, id, "analyse", {});
  return id;
}

export const expectSaved = (page: Page) => expect(page.getByText("saved", { exact: true })).toBeVisible();
