import type { Take } from "./takes";

export const base = process.env["BASE_URL"]!;
export const post = async <T>(path: string, body: object): Promise<T> => {
  const init = {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  };
  const response = await fetch(base + path, init);
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return (await response.json()) as T;
};

/** Making files takes seconds in which nothing else is noticed: not that the server has closed a connection. */
export const breathe = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 50));

/** Bytes of one part, as the interface sends them. */
const partBytes = 8 * 1024 * 1024;

/** Sends files as the interface does, three at a time. Returns the bytes of them all. */
export async function upload(song: string, list: Iterable<Take>): Promise<number> {
  let sent = 0;
  const rest = list[Symbol.iterator]();
  const one = async () => {
    for (let next = rest.next(); !next.done; next = rest.next()) {
      await breathe();
      const { name, bytes } = next.value;
      const { id } = await post<{ id: string }>(`/api/songs/${song}/uploads`, {
        name,
        bytes,
        mark: "bench",
      });
      for (let at = 0; at < bytes; at += partBytes) {
        const body = next.value.part(at, at + partBytes);
        const response = await fetch(`${base}/api/uploads/${id}?from=${at}`, { method: "PUT", body });
        if (!response.ok) throw new Error(await response.text());
      }
      await post(`/api/uploads/${id}`, {});
      sent += bytes;
    }
  };
  await Promise.all([one(), one(), one()]);
  return sent;
}

interface Task {
  readonly id: string;
  readonly state: string;
  readonly message: string;
}

/** Starts long work on a song; resolves when it is done. */
export async function run(song: string, kind: "analyse" | "export"): Promise<void> {
  const options = kind === "export" ? { format: "wav24" } : {};
  let task = await post<Task>(`/api/songs/${song}/tasks`, { kind, options });
  while (task.state === "waiting" || task.state === "running") {
    await new Promise((resolve) => setTimeout(resolve, 100));
    task = (await (await fetch(`${base}/api/tasks/${task.id}`)).json()) as Task;
  }
  if (task.state !== "done") throw new Error(`${kind} is ${task.state}: ${task.message}`);
}
