"use client";
import { useEffect, useState } from "react";
import { Form } from "react-bootstrap";
import { flavours, type Flavour, type Song } from "../../core/song/song";
import { otherSide } from "../../core/listen/otherSide";
import type { PastState } from "../../contract";
import { api } from "../shared/api";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { useRevisions } from "../revisions/revisionStore";
import { useCompare } from "./compareStore";

/** The list of states the song was in: those that were kept, and those before each change. Revisions count below zero. */
export function EarlierState({ id }: { id: string }) {
  const undo = useSong((s) => s.undo);
  const version = useCompare((s) => s.version);
  const [past, setPast] = useState<readonly PastState[]>([]);
  const revisions = useRevisions();
  useEffect(() => {
    let current = true;
    api.listPast(id).then(
      (list) => current && setPast(list),
      () => current && setPast([]),
    );
    return () => {
      current = false;
    };
  }, [id, undo]);
  const choose = async (position: number): Promise<void> => {
    try {
      const kept = position < 0;
      const song = await (kept ? api.revisionSong(id, -position) : api.songAt(id, position));
      if (!otherSide(useSong.getState().song!, { kind: "version", song }))
        throw new Error(
          "That state has other mics, or takes longer to compute than the song as it stands: go to it, and compare with this one instead. Nothing was changed.",
        );
      useCompare.setState({ version: { position, song } });
    } catch (error) {
      useSong.getState().tell(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Form.Select
      size="sm"
      aria-label="Earlier state"
      value={version?.position ?? ""}
      onChange={(event) => void choose(Number(event.target.value))}
    >
      <option value="" disabled>
        {past.length + revisions.length > 0 ? "choose a state" : "no change yet"}
      </option>
      {revisions.length > 0 && (
        <optgroup label="Revisions">
          {revisions.map((r) => (
            <option key={r.number} value={-r.number}>
              {r.number}: {r.name}
            </option>
          ))}
        </optgroup>
      )}
      <optgroup label="Changes">
        {past.map((p) => (
          <option key={p.position} value={p.position}>
            {p.position}: before “{p.before}”
          </option>
        ))}
      </optgroup>
    </Form.Select>
  );
}

/** The flavour whose proposals are on the other side. */
export function FlavourSide() {
  const flavour = useCompare((s) => s.flavour);
  return (
    <Form.Select
      size="sm"
      aria-label="Flavour on the other side"
      value={flavour}
      onChange={(event) => useCompare.setState({ flavour: event.target.value as Flavour })}
    >
      {flavours.map((f) => (
        <option key={f} value={f}>
          as proposed, {f}
        </option>
      ))}
    </Form.Select>
  );
}

/** Which of the files that are no drums is the record. */
export function Record({ song }: { song: Song }) {
  return (
    <Form.Select
      size="sm"
      aria-label="Record"
      value={song.referenceRecord ?? ""}
      onChange={(event) =>
        useSong.getState().change("Record to compare with", {
          op: "setSong",
          values: { referenceRecord: event.target.value || null },
        })
      }
    >
      <option value="">choose a file</option>
      {song.mics
        .filter((m) => m.piece === "context")
        .map((m) => (
          <option key={m.id} value={m.id}>
            {ownerName(m)}
          </option>
        ))}
    </Form.Select>
  );
}
