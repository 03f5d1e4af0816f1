import { readFileSync } from "node:fs";
import { AudioFileError } from "../../core/file/sampleFormat";
import { decodeFile, type Decoded } from "./decodeFile";
import { shared } from "./shared";

/** What is in a file. */
export type DecodeReply =
  | { readonly decoded: Decoded }
  /** `unreadable`: the file is at fault and others may be read; otherwise something else went wrong. */
  | { readonly error: string; readonly unreadable: boolean };

export const bytesOf = (path: string): Uint8Array => {
  const bytes = readFileSync(path);
  return new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength);
};

/** Decodes a file into shared memory. */
export async function decodeShared(bytes: Uint8Array): Promise<DecodeReply> {
  try {
    const decoded = await decodeFile(bytes);
    return { decoded: { ...decoded, channels: decoded.channels.map(shared) } };
  } catch (error) {
    const unreadable = error instanceof AudioFileError || error instanceof RangeError;
    return { error: error instanceof Error ? error.message : String(error), unreadable };
  }
}
