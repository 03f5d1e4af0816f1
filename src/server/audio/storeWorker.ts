import { parentPort } from "node:worker_threads";
import { AudioFileError } from "../../core/file/sampleFormat";
import { piecesOf } from "./pieces";
import type { StoreAsk, StoreReply } from "./storeOnThread";
import { storeIncoming } from "./storeIncoming";

// Entry of a thread that takes files into the database by a connection of its own.
parentPort!.on("message", ({ name, bytes, path }: StoreAsk) => {
  const tell = (reply: StoreReply): void => parentPort!.postMessage(reply);
  storeIncoming(name, bytes, piecesOf(path)).then(
    (taken) => tell({ taken }),
    (error: Error & { code?: string }) =>
      tell({ error: error.message, code: error.code, unreadable: error instanceof AudioFileError }),
  );
});
