import { expect, test } from "@jest/globals";
import { randomSource } from "../signal/random";
import { WholeFrames } from "./wholeFrames";

test("whatever the pieces, the frames are the same, each once and whole", () => {
  const random = randomSource(9);
  for (const frameBytes of [1, 2, 3, 4, 6, 8, 16])
    for (let run = 0; run < 40; run++) {
      const bytes = Uint8Array.from({ length: Math.floor(random() * 100) }, (_, i) => i);
      const whole = new WholeFrames(frameBytes);
      const came: number[] = [];
      for (let at = 0; at < bytes.length;) {
        const piece = Uint8Array.from(bytes.subarray(at, at + 1 + Math.floor(random() * 12)));
        whole.take(piece, (b, frames) => came.push(...b.subarray(0, frames * frameBytes)));
        at += piece.length;
        piece.fill(255); // its memory is used again
      }
      expect(came).toEqual([...bytes.subarray(0, bytes.length - (bytes.length % frameBytes))]);
    }
});
