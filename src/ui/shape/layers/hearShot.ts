import type { LayerMic, OneShot } from "../../../core/song/song";
import { askEvidence } from "../../shared/evidenceClient";
import { playback } from "../../shared/playback";
import { useSong } from "../../shared/songStore";

let context: AudioContext | null = null;
let sounding: AudioBufferSourceNode | null = null;

/** Plays one sound of a layer as it lies in its file; the song stops for it. */
export async function hearShot(mic: LayerMic, shot: OneShot, sampleRate: number): Promise<void> {
  try {
    playback.stop();
    sounding?.stop();
    const wave = await askEvidence("wave", {
      mic: { audio: mic.audio!, start: 0 },
      from: shot.from,
      to: shot.from + shot.frames,
    });
    context ??= new AudioContext({ sampleRate });
    await context.resume();
    const buffer = context.createBuffer(1, wave.length, sampleRate);
    buffer.copyToChannel(wave as Float32Array<ArrayBuffer>, 0);
    sounding = context.createBufferSource();
    sounding.buffer = buffer;
    sounding.connect(context.destination);
    sounding.start();
  } catch (error) {
    useSong.getState().tell(`${shot.name} could not be heard: ${(error as Error).message}.`);
  }
}
