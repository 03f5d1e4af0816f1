import { pieceFrames, type Samples } from "../../core/signal/samples";
import { Spool, type SpooledSamples } from "./spool";

/** Bytes of audio that are kept in memory at most: eleven minutes of two channels at 48 kHz. */
const heldMost = 2.5e8;

/** Channels that come a piece after another and are read when all has come: in memory, or on the disk where they are long. */
export interface KeptAudio {
  readonly channels: readonly Samples[];
  /** Takes the next frames of all channels. */
  take(pieces: readonly Float32Array[]): void;
  /** Nothing more comes. */
  end(): void;
  close(): Promise<void>;
}

/** Room for so many frames. `held`: bytes up to which they stay in memory. Errors  as Spool.open. */
export async function keepAudio(
  channels: number,
  frames: number,
  folder: string,
  held = heldMost,
): Promise<KeptAudio> {
  if (4 * channels * frames <= held) return inMemory(channels, frames);
  const spool = await Spool.open(folder);
  const signals: SpooledSamples[] = [];
  for (let ch = 0; ch < channels; ch++) signals.push(await spool.take(frames));
  return new OnDisk(spool, signals);
}

function inMemory(channels: number, frames: number): KeptAudio {
  const kept = Array.from({ length: channels }, () => new Float32Array(frames));
  let at = 0;
  return {
    channels: kept,
    take(pieces) {
      kept.forEach((x, ch) => x.set(pieces[ch]!, at));
      at += pieces[0]!.length;
    },
    end: () => {},
    close: async () => {},
  };
}

/** Writes whole pieces: a render gives a hundred frames at a time. */
class OnDisk implements KeptAudio {
  private readonly waiting: readonly Float32Array[];
  private filled = 0;
  private written = 0;
  constructor(
    private readonly spool: Spool,
    readonly channels: readonly SpooledSamples[],
  ) {
    this.waiting = channels.map(() => new Float32Array(pieceFrames));
  }
  take(pieces: readonly Float32Array[]): void {
    const frames = pieces[0]!.length;
    for (let done = 0; done < frames;) {
      const count = Math.min(frames - done, pieceFrames - this.filled);
      this.waiting.forEach((x, ch) => x.set(pieces[ch]!.subarray(done, done + count), this.filled));
      this.filled += count;
      done += count;
      if (this.filled === pieceFrames) this.flush();
    }
  }
  end(): void {
    this.flush();
  }
  private flush(): void {
    this.channels.forEach((signal, ch) =>
      this.spool.writeNow(signal, this.written, this.waiting[ch]!.subarray(0, this.filled)),
    );
    this.written += this.filled;
    this.filled = 0;
  }
  close(): Promise<void> {
    return this.spool.close();
  }
}
