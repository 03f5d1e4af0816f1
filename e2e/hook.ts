import type { Page } from "@playwright/test";

/** What the page offers to tests as `window.jubo`. */
export interface Hook {
  capture(frames: number): Promise<{ position: number; channels: Float32Array[] }>;
  seek(frame: number): void;
  onState(watch: (s: State) => void): () => void;
  audio(): AudioContext;
}
export interface State {
  position: number;
  starved: number;
  playing: boolean;
  /** Counts jumps of the playhead. */
  generation: number;
}
export interface Captured {
  position: number;
  left: number[];
  right: number[];
}

/** Captures the worklet's next frames in the page. */
export const capture = (page: Page, frames: number): Promise<Captured> =>
  page.evaluate(async (n) => {
    const { jubo } = window as unknown as { jubo: Hook };
    const { position, channels } = await jubo.capture(n);
    return { position, left: Array.from(channels[0]!), right: Array.from(channels[1]!) };
  }, frames);

/** The engine's next state. */
export const nextState = (page: Page): Promise<State> =>
  page.evaluate(
    () =>
      new Promise<State>((resolve) => {
        const stop = (window as unknown as { jubo: Hook }).jubo.onState((s) => {
          stop();
          resolve(s);
        });
      }),
  );
