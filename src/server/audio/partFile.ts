import { closeSync, openSync, renameSync, rmSync, writeFileSync } from "node:fs";

/** A file of audio that is written bit by bit and has its name only once it is whole. Errors  what the system says. */
export class PartFile {
  /** null: closed, by having become whole or by being given up. */
  private fd: number | null;
  private readonly part: string;

  constructor(private readonly path: string) {
    this.part = `${path}.part`;
    this.fd = openSync(this.part, "w");
  }
  write(bytes: Uint8Array): void {
    if (this.fd === null) throw new Error(`${this.path} is closed already`);
    writeFileSync(this.fd, bytes);
  }
  /** All is written. Errors  Error when frames are missing; then nothing is left of the file. */
  finish(written: number, frames: number): void {
    this.shut();
    if (written !== frames) {
      rmSync(this.part);
      throw new Error(`${this.path}: ${written} of ${frames} frames were written`);
    }
    renameSync(this.part, this.path);
  }
  /** Gives the file up; one that is whole stays. Never throws over what went wrong before. */
  abandon(): void {
    if (this.fd === null) return;
    this.shut();
    rmSync(this.part, { force: true });
  }
  private shut(): void {
    if (this.fd !== null) closeSync(this.fd);
    this.fd = null;
  }
}
