import { expect, test } from "@jest/globals";
import { measureAudio } from "../../core/measure/measureAudio";
import { newBus } from "../../core/song/create";
import { applyAll } from "../../core/song/operations";
import { testSong } from "../../core/testing/songs";
import { reportHtml } from "./report";

test("a report tells every chain, key, send and way, and lets no name through as markup", () => {
  const { song: plain, audio } = testSong();
  const song = applyAll(plain, [
    { op: "addBuses", buses: [newBus("low", "Low <b>", "group")] },
    { op: "setMic", mic: "kick", values: { output: "low", level: -3 } },
    { op: "setProcessor", owner: "kick", processor: "kick.gate", on: true },
    { op: "setProcessor", owner: "kick", processor: "kick.gate", key: "snare" },
    { op: "setSends", owner: "low", sends: [{ bus: "room", level: -6, from: "input", followsPan: true }] },
  ]);
  const html = reportHtml({ song, taken: [], tightness: null }, measureAudio(audio[2]!, 48000));
  expect(html).toMatch(
    /<tr><td>kick\.wav<\/td><td>Gate \([^<]*threshold −\d+ dB[^<]*\) by snare\.wav<\/td><td>−3\.0 dB<\/td><td>–<\/td><td>Low &lt;b&gt;<\/td><\/tr>/,
  );
  expect(html).toContain("<td>Low &lt;b&gt;</td><td>–</td><td>0.0 dB</td><td>Room −6.0 dB</td><td>Kit</td>");
  expect(html).toContain("<td>Kit</td><td>–</td><td>0.0 dB</td><td>–</td><td>the end</td>");
  expect(html).not.toContain("<b>");
  expect(html).not.toContain("<h2>Revisions");
  const beside = {
    verdicts: [
      { name: "True peak", figure: "+0.3 dBTP", grade: "fails" as const, reason: "lower <it>", step: null },
    ],
    revisions: [
      {
        number: 2,
        name: "Louder",
        note: "",
        changes: ["kick −3.0 dB", "kick muted"],
        at: "2026-01-02T03:04:05.000Z",
      },
    ],
  };
  const whole = reportHtml({ song, taken: [], tightness: null }, measureAudio(audio[2]!, 48000), beside);
  expect(whole).toContain("<td>fails</td><td>True peak</td><td>+0.3 dBTP</td><td>lower &lt;it&gt;</td>");
  expect(whole).toContain(
    "<td>2</td><td>Louder</td><td>2026-01-02 03:04</td><td></td><td>kick −3.0 dB; kick muted</td>",
  );
});
