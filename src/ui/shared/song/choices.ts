import { micsOf } from "../../../core/song/kitOrder";
import type { GetSong, SetSong, SongActions } from "./songState";

type Choices = "chooseStep" | "choosePiece" | "chooseMic" | "chooseBus" | "chooseProcessor" | "tell";

/** What lies on the bench. */
export const choiceActions = (set: SetSong, get: GetSong): Pick<SongActions, Choices> => ({
  chooseStep: (step) => set({ step, processor: null }),
  choosePiece(piece) {
    const { song } = get();
    const mics = song ? micsOf(song, piece) : [];
    const mic =
      mics.find((m) => !m.reference && !m.silent) ??
      mics[0] ??
      song?.mics.find((m) => m.layer && m.layer.drum === piece);
    set({ piece, mic: mic?.id ?? null, bus: null, processor: null });
  },
  chooseMic(mic) {
    const found = get().song?.mics.find((m) => m.id === mic);
    if (found) set({ piece: found.layer?.drum ?? found.piece, mic, bus: null, processor: null });
  },
  chooseBus: (bus) => set({ bus, processor: null }),
  chooseProcessor: (processor) => set({ processor }),
  tell: (trouble) => set({ trouble }),
});
