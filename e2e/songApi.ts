import { expect, type APIRequestContext, type APIResponse, type Page } from "@playwright/test";
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

/** Brings a file in as the page does: begun, sent from where an earlier try broke off, taken; the first refusal or the last answer. */
export async function sendFile(
  request: APIRequestContext,
  id: string,
  name: string,
  data: Buffer,
): Promise<APIResponse> {
  const begun = await request.post(`/api/songs/${id}/uploads`, {
    data: { name, bytes: data.length, mark: `${data.length}` },
  });
  if (!begun.ok()) return begun;
  const upload = (await begun.json()) as { id: string; received: number };
  if (upload.received < data.length) {
    const sent = await request.put(`/api/uploads/${upload.id}?from=${upload.received}`, {
      data: data.subarray(upload.received),
      headers: { "content-type": "application/octet-stream" },
    });
    if (!sent.ok()) return sent;
  }
  return request.post(`/api/uploads/${upload.id}`, { data: {} });
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
    expect((await sendFile(request, id, m.spec.file, Buffer.from(micFile(m, rate)))).ok()).toBe(true);
  await runTask(request, id, "analyse", {});
  return id;
}

export const expectSaved = (page: Page) => expect(page.getByText("saved", { exact: true })).toBeVisible();
