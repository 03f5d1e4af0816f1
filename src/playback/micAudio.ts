import { decodeFrames } from "../core/file/decodeFrames";
import { WholeFrames } from "../core/file/wholeFrames";
import type { SampleFormat } from "../core/file/sampleFormat";

/** How audio lies in a stored file, as the server tells it. */
interface StoredAudio {
  readonly sampleFormat: SampleFormat;
  readonly channels: number;
  readonly frameBytes: number;
  readonly dataStart: number;
  readonly frames: number;
}

async function requestBytes(id: string, from: number, to: number): Promise<Response> {
  const response = await fetch(`/api/audio/${id}`, { headers: { range: `bytes=${from}-${to - 1}` } });
  if (!response.ok) throw new Error(`the server answered ${response.status}`);
  return response;
}

/** All frames of a mic on the song's time line, per channel; its file begins at `start`. Errors  Error with the reason when the server cannot be asked. */
export async function fetchMic(id: string, start: number): Promise<Float32Array[]> {
  const first = await requestBytes(id, 0, 1);
  await first.arrayBuffer();
  const stored = JSON.parse(first.headers.get("x-audio")!) as StoredAudio;
  const { dataStart, frameBytes, frames, channels } = stored;
  const out = Array.from({ length: channels }, () => new Float32Array(start + frames));
  if (frames === 0) return out;
  const { body } = await requestBytes(id, dataStart, dataStart + frames * frameBytes);
  const whole = new WholeFrames(frameBytes);
  const reader = body!.getReader();
  let at = start;
  // Decoded as it comes: a mic of hours does not lie in memory twice.
  for (let next = await reader.read(); !next.done; next = await reader.read())
    whole.take(next.value, (bytes, count) => {
      decodeFrames(bytes, stored, count, out, at);
      at += count;
    });
  return out;
}

/** Audio from a song frame on, per channel. */
export interface Stretch {
  readonly from: number;
  readonly channels: readonly Float32Array[];
}

/** Times that a stretch is asked for while the song is being saved, and how long between them, ms. */
const saving = { times: 20, pause: 250 };

/** A stretch that the server makes of all mics; waits while what it hangs on is not saved yet. Errors  Error with its words. */
export async function fetchStretch(path: string): Promise<Stretch> {
  let response = await fetch(path);
  for (let n = 1; response.status === 409 && n < saving.times; n++) {
    await new Promise((resolve) => setTimeout(resolve, saving.pause));
    response = await fetch(path);
  }
  if (!response.ok) {
    const { message } = (await response.json().catch(() => ({}))) as { message?: string };
    throw new Error(message ?? `the server answered ${response.status}`);
  }
  const { from, channels } = JSON.parse(response.headers.get("x-stretch")!) as {
    from: number;
    channels: number;
  };
  const all = new Float32Array(await response.arrayBuffer());
  const frames = all.length / channels;
  return {
    from,
    channels: Array.from({ length: channels }, (_, ch) => all.subarray(ch * frames, (ch + 1) * frames)),
  };
}
