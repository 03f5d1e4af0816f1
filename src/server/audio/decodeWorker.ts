import { parentPort } from "node:worker_threads";
import { bytesOf, decodeShared } from "./decodeShared";

// Entry of a thread that decodes files.
parentPort!.on("message", (path: string) => {
  void decodeShared(bytesOf(path)).then((reply) => parentPort!.postMessage(reply));
});
