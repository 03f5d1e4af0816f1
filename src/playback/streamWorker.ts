import type { StreamMessage } from "./messages";
import { Streamer } from "./streamer";

// Entry of the streaming worker.
const streamer = new Streamer(
  (message) => self.postMessage(message),
  (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
);
self.addEventListener("message", (event: MessageEvent<StreamMessage>) => streamer.receive(event.data));
