import { create } from "zustand";
import { beginsBar } from "../../core/grid/bars";
import {
  plainListening,
  plainMonitor,
  type Comparison,
  type Listening,
  type MonitorSettings,
  type Side,
} from "../../core/listen/listening";
import type { Operation } from "../../core/song/operations";
import type { Song } from "../../core/song/song";
import { responsesOf } from "../../core/engine/responses";
import { sameSources } from "../../core/song/structure";
import type { Stretch } from "../../playback/messages";
import type { EngineState } from "../../playback/meterBoard";
import { Player } from "../../playback/player";
import { askEvidence } from "./evidenceClient";

export interface PlaybackState {
  readonly playing: boolean;
  /** Loop in frames; kept while it is switched off. */
  readonly loop: Stretch | null;
  readonly looping: boolean;
  /** Strokes of one drum are played one after another. */
  readonly strokes: boolean;
  readonly comparison: Comparison;
  readonly side: Side;
  readonly matched: boolean;
  readonly monitor: MonitorSettings;
  readonly click: boolean;
  readonly countIn: boolean;
  readonly half: boolean;
  readonly trouble: string | null;
  /** Processors that were taken out, by id. */
  readonly failed: readonly string[];
}

const fresh: PlaybackState = {
  playing: false,
  loop: null,
  looping: false,
  strokes: false,
  comparison: plainListening.comparison,
  side: "with",
  matched: true,
  monitor: plainMonitor,
  click: false,
  countIn: false,
  half: false,
  trouble: null,
  failed: [],
};
export const usePlayback = create<PlaybackState>()(() => fresh);

type Watcher = (state: EngineState) => void;
const watchers = new Set<Watcher>();
const moved = new Set<(frame: number) => void>();
let player: Player | null = null;
let playing: Song | null = null;
let position = 0;
let watched: readonly string[] = [];
let watchedBands: string | null = null;
let watchedChain: string | null = null;

function listeningNow(): Listening {
  const { comparison, side, matched, monitor, loop, looping } = usePlayback.getState();
  return { comparison, side, matched, monitor, range: looping ? loop : null };
}

/** Beats of the song in frames, as far as a click wants them. */
function clickBeats(song: Song): number[] {
  if (!usePlayback.getState().click || !song.tempo) return [];
  return song.tempo.beats.map((b) => b * song.sampleRate);
}
const sendClick = (song: Song): void => {
  const { tempo } = song;
  player?.setClick(clickBeats(song), tempo ? tempo.beats.map((_, i) => beginsBar(tempo, i)) : []);
};

function make(song: Song): void {
  const before = usePlayback.getState();
  player?.close();
  player = new Player(song, {
    state(state) {
      position = state.position;
      for (const watch of watchers) watch(state);
      const now = player?.playing ?? false;
      if (now !== usePlayback.getState().playing) usePlayback.setState({ playing: now });
    },
    trouble: (trouble) => usePlayback.setState({ trouble }),
    failed: (failed) => usePlayback.setState({ failed }),
  });
  player.listen(listeningNow());
  player.watch(watched);
  player.watchBands(watchedBands);
  player.watchChain(watchedChain);
  player.setHalf(before.half);
  sendClick(song);
  sendResponses(song);
  if (before.looping && before.loop) player.setLoop(before.loop);
  player.seek(position);
  if (before.playing) void player.play().catch(() => usePlayback.setState({ playing: false }));
}

/** Sends the impulse responses that the song answers with, each once for a player. */
function sendResponses(song: Song): void {
  if (!player) return;
  const to = player;
  for (const mic of responsesOf(song)) {
    if (mic.audio === null || !to.wantsResponse(mic.id)) continue;
    askEvidence("response", { mic: { audio: mic.audio, start: 0 }, sampleRate: song.sampleRate }).then(
      (response) => to.setResponse(mic.id, response),
      (error: Error) => {
        to.forgetResponse(mic.id);
        usePlayback.setState({ trouble: `${mic.file} could not be read as a response: ${error.message}.` });
      },
    );
  }
}

function listen(change: Partial<PlaybackState>): void {
  usePlayback.setState(change);
  player?.listen(listeningNow());
}

/** The one player of the page and what the interface does with it. */
export const playback = {
  /** Takes a whole song; the player is made anew only when its mics or chains changed. */
  take(song: Song): void {
    const before = playing;
    const beats = before?.tempo !== song.tempo;
    playing = song;
    if (player && before && sameSources(before, song)) {
      player.change(song, null);
      sendResponses(song);
      if (beats) sendClick(song);
      return;
    }
    if (song.mics.length === 0) return playback.close();
    make(song);
  },
  change(song: Song, operation: Operation): void {
    const beats = playing?.tempo !== song.tempo;
    playing = song;
    player?.change(song, operation);
    sendResponses(song);
    if (beats) sendClick(song);
  },
  close(): void {
    player?.close();
    player = null;
    playing = null;
    position = 0;
    usePlayback.setState(fresh);
  },
  play(): void {
    if (!player || !playing) return;
    const { countIn } = usePlayback.getState();
    const { tempo, sampleRate } = playing;
    const count =
      countIn && tempo
        ? { beats: tempo.beatsPerBar, framesPerBeat: Math.round((60 / tempo.bpm) * sampleRate) }
        : null;
    usePlayback.setState({ playing: true, trouble: null });
    player.play(count).catch(() => usePlayback.setState({ playing: false }));
  },
  stop(): void {
    player?.stop();
    if (usePlayback.getState().strokes) playback.leaveStrokes();
    usePlayback.setState({ playing: false });
  },
  toggle(): void {
    if (!player) return;
    if (player.playing) playback.stop();
    else playback.play();
  },
  /** Song frame that is heard or stands under the playhead. */
  get position(): number {
    return position;
  },
  seek(frame: number): void {
    if (!player) return;
    if (usePlayback.getState().strokes) playback.leaveStrokes();
    position = Math.max(0, Math.round(frame));
    player.seek(position);
    for (const move of moved) move(position);
  },
  setLoop(loop: Stretch | null, looping: boolean): void {
    const on = looping && loop !== null;
    listen({ loop, looping: on, strokes: false });
    player?.setLoop(on ? loop : null);
  },
  /** Plays stretches one after another. */
  playStrokes(stretches: readonly Stretch[]): void {
    if (!player || stretches.length === 0) return;
    usePlayback.setState({ strokes: true });
    player.setStretches(stretches);
    if (!player.playing) playback.play();
  },
  leaveStrokes(): void {
    const { loop, looping } = usePlayback.getState();
    usePlayback.setState({ strokes: false });
    player?.setLoop(looping ? loop : null);
  },
  compare(comparison: Comparison, side: Side, matched: boolean): void {
    listen({ comparison, side, matched });
  },
  setMonitor(change: Partial<MonitorSettings>): void {
    listen({ monitor: { ...usePlayback.getState().monitor, ...change } });
  },
  setClick(click: boolean): void {
    usePlayback.setState({ click });
    if (playing) sendClick(playing);
  },
  setCountIn: (countIn: boolean): void => usePlayback.setState({ countIn }),
  setHalf(half: boolean): void {
    usePlayback.setState({ half });
    player?.setHalf(half);
  },
  watchProcessors(ids: readonly string[]): void {
    watched = ids;
    player?.watch(ids);
  },
  /** Has the gains of a processor's bands reported; returns how to stop it. */
  watchBands(id: string): () => void {
    watchedBands = id;
    player?.watchBands(id);
    return () => {
      if (watchedBands !== id) return;
      watchedBands = null;
      player?.watchBands(null);
    };
  },
  /** Has levels along the chain of a mic or bus reported; returns how to stop it. */
  watchChain(id: string): () => void {
    watchedChain = id;
    player?.watchChain(id);
    return () => {
      if (watchedChain !== id) return;
      watchedChain = null;
      player?.watchChain(null);
    };
  },
  /** Gain reduction of a watched processor, dB. */
  reductionOf: (state: EngineState, id: string): number => state.reductions[watched.indexOf(id)] ?? 0,
  capture: (frames: number) => player?.capture(frames),
  /** The audio context, for tests. */
  audio: () => player?.audio ?? null,
  /** Calls back with every report of the engine; returns how to stop it. */
  subscribe(watcher: Watcher): () => void {
    watchers.add(watcher);
    return () => watchers.delete(watcher);
  },
  /** Calls back with where the playhead is: now, while it plays, and when it is put somewhere; returns how to stop it. */
  follow(place: (frame: number) => void): () => void {
    place(position);
    const leave = playback.subscribe((s) => place(s.position));
    moved.add(place);
    return () => {
      leave();
      moved.delete(place);
    };
  },
};
