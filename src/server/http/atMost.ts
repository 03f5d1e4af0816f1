/** Passes pieces on as long as they have no more bytes than that together. Errors  what `tooMuch` gives, before the piece that is too much. */
export const atMost = (bytes: number, tooMuch: () => Error) =>
  async function* (source: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
    let left = bytes;
    for await (const piece of source) {
      left -= piece.length;
      if (left < 0) throw tooMuch();
      yield piece;
    }
  };
