import { parentPort } from "node:worker_threads";
import { AudioFileError } from "../../core/file/sampleFormat";
import { convertHere, type ConvertAsk, type ConvertReply } from "./convert";

// Entry of a thread that converts sample rates and decodes FLAC: seconds of work that must hold up nobody's request.
parentPort!.on("message", (ask: ConvertAsk) => {
  convertHere(ask).then(
    (answer) => parentPort!.postMessage({ answer } satisfies ConvertReply),
    (error: Error) =>
      parentPort!.postMessage({
        error: error.message,
        unreadable: error instanceof AudioFileError,
      } satisfies ConvertReply),
  );
});
