import { measureAgain } from "../../core/analysis/measureFacts";
import { relabelledSince } from "../../core/facts/factsNow";
import { isHeardOtherwise } from "../../core/song/relabel";
import type { Samples } from "../../core/signal/samples";
import type { Mic } from "../../core/song/song";
import { analysisThreads } from "../analysis/threads";
import { spoolFor } from "../audio/room";
import { audioOfMics, heldMic } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong, lockSong, updateFacts } from "../db/queries/song";
import { songGone } from "../errors";
import { decodedBytes } from "../memory";
import type { Job } from "./turn";
import { analyseSong } from "./analyseSong";

/**
 * Measures what new labels change: single mics anew where drums are only called otherwise, everything where a drum has
 * another main mic.
 */
export async function followLabels(songId: string, job: Job): Promise<void> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const { document, facts } = row;
  if (!facts || isHeardOtherwise(document)) return analyseSong(songId, job, "Follow the labels");
  const changed = relabelledSince(document, facts);
  if (changed.length === 0) return;
  const rows = await audioOfMics(pool(), songId, document);
  const rowOf = (mic: Mic) => rows[document.mics.indexOf(mic)]!;
  const heard = document.mics.filter((m) =>
    document.mics.some((c) => changed.includes(c.id) && (c === m || c.reference === m.id)),
  );
  const spool = await spoolFor(decodedBytes(heard.map((m) => rowOf(m).audio)));
  const threads = analysisThreads();
  try {
    const audio = new Map<string, readonly Samples[]>();
    for (const mic of heard) audio.set(mic.id, await heldMic(pool(), rowOf(mic), spool));
    const audioOf = async (mic: Mic) => audio.get(mic.id)!;
    const measured = await measureAgain(document, changed, audioOf, facts, threads.run);
    await job.commit(async (db) => {
      const now = await lockSong(db, songId);
      // Labelled once more meanwhile: that will be followed in its turn.
      if (now && relabelledSince(now.document, measured).length === 0)
        await updateFacts(db, songId, measured);
    });
  } finally {
    await threads.close();
    await spool?.close();
  }
}
