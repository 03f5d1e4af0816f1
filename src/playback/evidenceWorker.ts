import { EvidenceDesk, type EvidenceReply, type EvidenceRequest } from "./evidence";

// Entry of the evidence worker.
const desk = new EvidenceDesk();
self.addEventListener("message", ({ data }: MessageEvent<EvidenceRequest>) => {
  const reply = (message: EvidenceReply) => self.postMessage(message);
  desk.answer(data).then(
    (answer) => reply({ id: data.id, answer }),
    (error: unknown) => reply({ id: data.id, error: error instanceof Error ? error.message : String(error) }),
  );
});
