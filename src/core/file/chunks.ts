/** One chunk of a RIFF or IFF file: its name and its body, as far as the bytes reach. */
export interface Chunk {
  readonly id: string;
  readonly body: DataView;
  /** Length that is told, bytes. */
  readonly size: number;
  /** Where the body begins in the given bytes. */
  readonly at: number;
}

const text = (view: DataView, at: number, length: number): string => {
  let s = "";
  for (let i = at; i < Math.min(at + length, view.byteLength); i++)
    s += String.fromCharCode(view.getUint8(i));
  return s;
};
export const fourChars = (view: DataView, at: number): string => text(view, at, 4);

/** Text of at most `length` bytes up to its first zero: UTF-8, or Latin-1 where it is none. */
export function textOf(view: DataView, at: number, length: number): string {
  const bytes = text(view, at, length).replace(/\0.*$/s, "");
  try {
    return decodeURIComponent(
      bytes.replace(/[^]/g, (c) => `%${c.charCodeAt(0).toString(16).padStart(2, "0")}`),
    );
  } catch {
    return bytes;
  }
}

/**
 * Walks over chunks one after another, padded to even places; stops where the bytes end.
 * Shape   bytes begin at a chunk's name. `little`: low byte first, as in RIFF.
 * Source  EA IFF 85; Multimedia Programming Interface 1.0 (RIFF).
 */
export function* chunksOf(bytes: Uint8Array, little: boolean): Generator<Chunk> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 0; at + 8 <= bytes.length;) {
    const size = view.getUint32(at + 4, little);
    const start = at + 8;
    const body = new DataView(bytes.buffer, bytes.byteOffset + start, Math.min(size, bytes.length - start));
    yield { id: fourChars(view, at), body, size, at: start };
    at = start + size + (size % 2);
  }
}
