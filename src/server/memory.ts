import { totalmem } from "node:os";

/** Memory of this machine, or of the part of it that this program is allowed, bytes. */
export function memoryHere(): number {
  const allowed = process.constrainedMemory();
  return allowed && allowed < totalmem() ? allowed : totalmem();
}
