import { LiveEngine } from "./liveEngine";
import type { EngineMessage } from "./messages";

// Entry of the audio worklet. The worklet's own globals are in no library of types.
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, type: new () => AudioWorkletProcessor): void;

registerProcessor(
  "jubo-engine",
  class extends AudioWorkletProcessor {
    private readonly live = new LiveEngine((message) => this.port.postMessage(message));
    constructor() {
      super();
      this.port.onmessage = ({ data }: MessageEvent<EngineMessage>) => {
        try {
          this.live.receive(data);
        } catch (error) {
          const message = error instanceof Error ? error.message : String(error);
          this.port.postMessage({ type: "broken", message });
        }
      };
    }
    process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
      this.live.process(outputs[0]!);
      return true;
    }
  },
);
