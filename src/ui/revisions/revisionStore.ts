import { useEffect } from "react";
import { create } from "zustand";
import type { Revision } from "../../contract";
import { api } from "../shared/api";
import { allSaved, useSong } from "../shared/songStore";

const useStore = create<{ song: string; list: readonly Revision[] }>(() => ({ song: "", list: [] }));

async function load(song: string): Promise<void> {
  const list = await api.listRevisions(song);
  if (useSong.getState().id === song) useStore.setState({ song, list });
}

/** Revisions of the open song, newest first. */
export function useRevisions(): readonly Revision[] {
  const id = useSong((s) => s.id);
  const { song, list } = useStore();
  useEffect(() => {
    load(id).catch(() => useStore.setState({ song: id, list: [] }));
  }, [id]);
  return song === id ? list : [];
}

/** Does something with the revisions of the open song, and lists them anew; faults are told. */
async function doing(work: (id: string) => Promise<unknown>): Promise<void> {
  const { id, tell } = useSong.getState();
  try {
    await work(id);
    await load(id);
  } catch (error) {
    tell(error instanceof Error ? error.message : String(error));
  }
}

/** Keeps the song with every change that was made here. */
export const keep = (name: string, note: string): Promise<void> =>
  doing(async (id) => {
    await allSaved();
    await api.keepRevision(id, name, note);
  });
export const giveUp = (number: number): Promise<void> => doing((id) => api.giveUpRevision(id, number));
