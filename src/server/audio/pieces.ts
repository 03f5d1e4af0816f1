import { open } from "node:fs/promises";

const pieceBytes = 1 << 20;

/** The bytes of a file on disk, piece by piece; the memory of a piece is used again for the next. */
export async function* piecesOf(path: string): AsyncGenerator<Buffer> {
  const file = await open(path);
  try {
    const memory = Buffer.allocUnsafe(pieceBytes);
    for (;;) {
      const { bytesRead } = await file.read(memory, 0, pieceBytes);
      if (bytesRead === 0) return;
      yield memory.subarray(0, bytesRead);
    }
  } finally {
    await file.close();
  }
}
