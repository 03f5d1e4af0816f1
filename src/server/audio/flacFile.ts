import { writeFileSync } from "node:fs";
import Flac from "libflacjs/dist/libflac.js";

/**
 * Writes one or two channels as a 24-bit FLAC file (RFC 9639) with the libflac package.
 * Errors  Error when the encoder refuses.
 */
export function writeFlac(path: string, channels: readonly Float32Array[], sampleRate: number): void {
  const frames = channels[0]!.length;
  const encoder = Flac.create_libflac_encoder(sampleRate, channels.length, 24, 5, frames, true, 0);
  const parts: Uint8Array[] = [];
  const start = Flac.init_encoder_stream(
    encoder,
    (data: Uint8Array) => void parts.push(data.slice()),
    () => {},
  );
  if (encoder === 0 || start !== 0) throw new Error(`${path}: the FLAC encoder would not start (${start})`);
  const block = 1 << 16;
  for (let at = 0; at < frames; at += block) {
    const n = Math.min(block, frames - at);
    const ints = channels.map((x) =>
      Int32Array.from(x.subarray(at, at + n), (v) =>
        Math.max(-8388608, Math.min(8388607, Math.round(v * 8388608))),
      ),
    );
    if (!Flac.FLAC__stream_encoder_process(encoder, ints, n))
      throw new Error(`${path}: the FLAC encoder gave up`);
  }
  Flac.FLAC__stream_encoder_finish(encoder);
  Flac.FLAC__stream_encoder_delete(encoder);
  writeFileSync(path, Buffer.concat(parts));
}
