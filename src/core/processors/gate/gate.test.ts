import { describe, expect, test } from "@jest/globals";
import { resolveParams } from "../../params";
import { plainContext } from "../../processor";
import { make, rate, through } from "../../testing/runProcessor";
import { levelAt, sine } from "../../testing/signals";
import { gate } from ".";

const db = (v: number) => 20 * Math.log10(Math.abs(v));

describe("gate", () => {
  const values = {
    opens: "level",
    threshold: -30,
    hysteresis: 6,
    range: 60,
    attack: 0.0005,
    hold: 0.05,
    release: 0.02,
    lookahead: 0,
  };
  const late = make(gate, values).latency;

  test("its detector can be heard: the filtered mic in time, with no step when it comes and goes", () => {
    const open = { threshold: -60, range: 60 };
    const tone = sine(100, 0.5, 1).map((v, i) => v + 0.1 * Math.sin((2 * Math.PI * 3000 * i) / 48000));
    const set = { ...open, hear: "detector", highPass: 1000 };
    const y = through(make(gate, set), tone);
    // Butterworth of the second order, any filter handbook: |H|^2 = 1 / (1 + (fc / f)^4).
    const passed = -10 * Math.log10(1 + (1000 / 3000) ** 4);
    expect(levelAt(y.slice(24000), 3000) - levelAt(tone.slice(24000), 3000)).toBeCloseTo(passed, 1);
    expect(levelAt(y.slice(24000), 100)).toBeLessThan(levelAt(tone.slice(24000), 100) - 35);
    const g = make(gate, open);
    const out = new Float32Array(tone.length);
    for (let at = 0; at + 48 <= tone.length; at += 48) {
      if (at === 48 * 100 || at === 48 * 200) g.set(resolveParams(gate.params, at === 48 * 100 ? set : open));
      g.process([tone.subarray(at, at + 48)], [out.subarray(at, at + 48)], 48, plainContext(at));
    }
    let step = 0;
    for (let i = 48 * 90; i < out.length - 48; i++) step = Math.max(step, Math.abs(out[i]! - out[i - 1]!));
    expect(step).toBeLessThan(0.06);
  });
  test("opens above the threshold, stays open between, closes below threshold minus hysteresis", () => {
    const x = new Float32Array(rate);
    x.fill(0.1, 4800, 9600); // -20 dB: opens
    x.fill(0.02, 9600, 19200); // -34 dB: between the two thresholds
    x.fill(0.005, 19200, 48000); // -46 dB: closes
    const y = through(make(gate, values), x);
    expect(y[4800 + late + 480]! / 0.1).toBeGreaterThan(0.99);
    expect(y[15000 + late]! / 0.02).toBeGreaterThan(0.99);
    expect(db(y[19200 + late + 0.02 * rate]! / 0.005)).toBeCloseTo(20 * Math.log10(1 / Math.E), 0);
    expect(db(y[47000]! / 0.005)).toBeLessThan(-58);
  });
  test("a short stroke keeps it open for the hold", () => {
    const x = new Float32Array(rate).fill(0.001);
    x[4800] = 0.5;
    const y = through(make(gate, values), x);
    const held = 4800 + late + 0.05 * rate;
    expect(y[held - 20]! / 0.001).toBeGreaterThan(0.99);
    expect(db(y[held + 3 * 0.02 * rate]! / 0.001)).toBeCloseTo((20 * -3) / Math.LN10, 0);
  });
  test("a hit opens it the look-ahead before the stroke, whatever the level", () => {
    const x = new Float32Array(rate).fill(0.001);
    const y = through(
      make(gate, { ...values, opens: "hits", lookahead: 0.002 }),
      x,
      Float64Array.from([24000]),
    );
    const openAt = y.findIndex((v, i) => i > 1000 && v / 0.001 > 0.63) - late;
    expect((24000 - openAt) / rate).toBeCloseTo(0.002 - 0.0005, 3);
  });
  test("hits from another position of the song do nothing", () => {
    const y = through(
      make(gate, { ...values, opens: "hits" }),
      new Float32Array(4800).fill(0.5),
      Float64Array.from([90000]),
    );
    expect(Math.max(...y.slice(1000))).toBeLessThan(0.001);
  });
});
