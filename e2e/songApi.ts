import { expect, type APIRequestContext, type APIResponse, type Page } from "@playwright/test";
import { micFile } from "../demo/demoSong";
import { simulate, type SimulatedMic } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { readAudio } from "../src/core/file/audioFile";
import type { Facts } from "../src/core/facts/facts";
import type { Song } from "../src/core/song/song";

export interface Opened {
  song: Song;
  facts: Facts | null;
}
export const readSong = async (request: APIRequestContext, id: string): Promise<Opened> =>
  (await (await request.get(`/api/songs/${id}`)).json()) as Opened;

/** A copy of a song under a title of its own, so that nobody takes it for the song itself. */
export async function copyOf(request: APIRequestContext, title: string, own: string): Promise<string> {
  const { songs } = (await (await request.get("/api/songs")).json()) as {
    songs: { id: string; title: string }[];
  };
  const { id } = songs.find((s) => s.title === title)!;
  const copy = (await (await request.post(`/api/songs/${id}/copy`)).json()) as {
    id: string;
    version: number;
  };
  const { version } = (await (await request.get(`/api/songs/${copy.id}`)).json()) as { version: number };
  const operation = { op: "setSong", values: { title: own } };
  const renamed = await request.post(`/api/songs/${copy.id}/operations`, {
    data: { version, label: "Title", operation },
  });
  expect(renamed.ok()).toBe(true);
  return copy.id;
}

/** Starts a task and waits until it is done; its result. */
export async function runTask<Result = unknown>(
  request: APIRequestContext,
  id: string,
  kind: string,
  options: object,
): Promise<Result> {
  let task = (await (await request.post(`/api/songs/${id}/tasks`, { data: { kind, options } })).json()) as {
    id: string;
    state: string;
    result: Result;
  };
  const state = async () =>
    (task = (await (await request.get(`/api/tasks/${task.id}`)).json()) as typeof task).state;
  await expect.poll(state, { timeout: 150_000 }).toBe("done");
  return task.result;
}

/** What a render gave: the names of its files, and the audio of one of them. */
export async function render(request: APIRequestContext, id: string, options: object) {
  const { files } = await runTask<{ files: { id: string; name: string }[] }>(request, id, "export", options);
  return {
    names: files.map((f) => f.name),
    audioOf: async (name: string): Promise<readonly Float32Array[]> => {
      const file = files.find((f) => f.name === name)!;
      return readAudio(new Uint8Array(await (await request.get(`/api/files/${file.id}`)).body())).channels;
    },
  };
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

/** A varied kit of so many bars as a song of its own, analysed; copied from what another test has brought in, where one has. */
export async function variedSong(
  request: APIRequestContext,
  title: string,
  seed: number,
  bars: number,
): Promise<string> {
  const common = `Kit ${seed}, ${bars} bars`;
  const { songs } = (await (await request.get("/api/songs")).json()) as { songs: { title: string }[] };
  if (!songs.some((s) => s.title === common)) {
    const { kit, song } = variedKit(seed, bars);
    await deliverSong(request, common, simulate(kit, song, 48000, seed).mics, 48000);
  }
  return copyOf(request, common, title);
}

export const expectSaved = (page: Page) => expect(page.getByText("saved", { exact: true })).toBeVisible();
