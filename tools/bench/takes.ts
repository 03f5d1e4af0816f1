import { simulate } from "../../demo/simulate";
import { variedKit } from "../../demo/varied";
import { writeWav } from "../../src/core/file/wavWrite";

const rate = 48000;

export interface Take {
  readonly name: string;
  readonly data: Uint8Array;
}

/** Files of a kit repeated to a length, one after the other; more mics than the kit has are copies at another level. */
export function* takes(mics: number, minutes: number): Generator<Take> {
  const { kit, song } = variedKit(401, 3);
  const played = simulate(kit, song, rate, 401).mics;
  for (let i = 0; i < mics; i++) {
    const { spec, channels } = played[i % played.length]!;
    const copy = Math.floor(i / played.length);
    const gain = 1 - 0.13 * copy;
    const long = channels.map((x) => {
      const y = new Float32Array(minutes * 60 * rate);
      for (let at = 0; at < y.length; at += x.length)
        y.set(x.subarray(0, Math.min(x.length, y.length - at)), at);
      return copy ? y.map((v) => gain * v) : y;
    });
    const name = copy ? spec.file.replace(/\.wav$/i, ` ${copy + 1}.wav`) : spec.file;
    yield { name, data: writeWav({ sampleRate: rate, channels: long }, "wav24") };
  }
}
