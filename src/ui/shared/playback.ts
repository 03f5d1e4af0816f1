import { create } from "zustand";
import type { Operation } from "../../core/song/operations";
import type { Song } from "../../core/song/song";
import type { EngineState, Loop } from "../../playback/messages";
import { Player } from "../../playback/player";
import { plainListening, type Listening } from "../../core/engine/engine";

export interface PlaybackState {
  readonly playing: boolean;
  /** Loop in frames; kept while it is switched off. */
  readonly loop: Loop | null;
  readonly looping: boolean;
  readonly listening: Listening;
  readonly asPlayed: boolean;
  readonly trouble: string | null;
}

export const usePlayback = create<PlaybackState>()(() => ({
  playing: false,
  loop: null,
  looping: false,
  listening: plainListening,
  asPlayed: false,
  trouble: null,
}));

type Watcher = (state: EngineState) => void;
const watchers = new Set<Watcher>();
let player: Player | null = null;
let playerKey = "";
let position = 0;

/** What the player is built around: which mics it streams and which chains it runs. */
const structureOf = (song: Song): string =>
  JSON.stringify([
    song.sampleRate,
    song.frames,
    song.mics.map((m) => [m.id, m.audio, m.channels]),
    song.buses.map((b) => b.id),
  ]);

function make(song: Song): void {
  const { playing } = usePlayback.getState();
  player?.close();
  player = new Player(song, {
    state(state) {
      position = state.position;
      for (const watch of watchers) watch(state);
      if (state.playing !== usePlayback.getState().playing)
        usePlayback.setState({ playing: player?.playing ?? false });
    },
    trouble: (trouble) => usePlayback.setState({ trouble }),
  });
  const { loop, looping, listening } = usePlayback.getState();
  player.listen(listening);
  if (looping && loop) player.setLoop(loop);
  player.seek(position);
  if (playing) void player.play().catch(() => usePlayback.setState({ playing: false }));
}

/** The one player of the page and what the interface does with it. */
export const playback = {
  /** Takes a whole song; the player is made anew only when its mics or chains changed. */
  take(song: Song): void {
    const key = structureOf(song);
    if (player && key === playerKey) return player.change(song, null);
    if (song.mics.length === 0) return playback.close();
    playerKey = key;
    make(song);
  },
  change(song: Song, operation: Operation): void {
    player?.change(song, operation);
  },
  close(): void {
    player?.close();
    player = null;
    playerKey = "";
    position = 0;
    usePlayback.setState({
      playing: false,
      loop: null,
      looping: false,
      listening: plainListening,
      asPlayed: false,
    });
  },
  toggle(): void {
    if (!player) return;
    if (player.playing) {
      player.stop();
      usePlayback.setState({ playing: false });
    } else {
      usePlayback.setState({ playing: true, trouble: null });
      player.play().catch(() => usePlayback.setState({ playing: false }));
    }
  },
  /** Song frame that is heard or stands under the playhead. */
  get position(): number {
    return position;
  },
  seek(frame: number): void {
    if (!player) return;
    position = Math.max(0, Math.round(frame));
    player.seek(position);
    for (const move of moved) move(position);
  },
  setLoop(loop: Loop | null, looping: boolean): void {
    usePlayback.setState({ loop, looping: looping && loop !== null });
    player?.setLoop(looping ? loop : null);
  },
  listen(listening: Listening): void {
    usePlayback.setState({ listening });
    player?.listen(listening);
  },
  setAsPlayed(asPlayed: boolean): void {
    usePlayback.setState({ asPlayed });
    player?.setAsPlayed(asPlayed);
  },
  watchProcessors: (ids: readonly string[]): void => player?.watch(ids),
  capture: (frames: number) => player?.capture(frames),
  /** Calls back with every report of the engine; returns how to stop it. */
  subscribe(watcher: Watcher): () => void {
    watchers.add(watcher);
    return () => watchers.delete(watcher);
  },
  /** Calls back when the playhead is put somewhere while nothing plays. */
  onMove(move: (frame: number) => void): () => void {
    moved.add(move);
    return () => moved.delete(move);
  },
};

const moved = new Set<(frame: number) => void>();
