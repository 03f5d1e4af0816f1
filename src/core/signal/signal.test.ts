import { describe, expect, test } from "@jest/globals";
import { levelAt, noise, sine } from "../testing/signals";
import { fastDb, fastExp2, fastGain, fastLog2 } from "./fastMath";
import { RealFft } from "./fft";
import { delayed } from "./fractionalDelay";

describe("signal", () => {
  test("fast logarithm and power stay within a thousandth of a dB of the exact ones", () => {
    for (let db = -100; db <= 20; db += 0.37) {
      const x = Math.pow(10, db / 20);
      expect(Math.abs(fastDb(x) - db)).toBeLessThan(0.001);
      expect(Math.abs(20 * Math.log10(fastGain(db)) - db)).toBeLessThan(0.001);
    }
    expect(fastLog2(8)).toBeCloseTo(3, 5);
    expect(fastExp2(-3)).toBeCloseTo(0.125, 5);
  });

  test("the FFT obeys Parseval's theorem and comes back", () => {
    const fft = RealFft.of(1024);
    const x = noise(1024);
    const s = fft.spectrum();
    fft.forward(x, 0, 1024, s);
    let power = 0;
    for (let k = 0; k <= 512; k++) power += (k === 0 || k === 512 ? 1 : 2) * (s.re[k]! ** 2 + s.im[k]! ** 2);
    expect(power / 1024).toBeCloseTo(
      x.reduce((sum, v) => sum + v * v, 0),
      6,
    );
    const back = new Float64Array(1024);
    fft.inverse(s, back);
    x.forEach((v, i) => expect(back[i]).toBeCloseTo(v, 6));
  });

  // Laakso et al. 1996: an ideal fractional delay keeps every magnitude and turns the phase by 2 pi f d.
  test("a fractional delay moves sines by their exact phase", () => {
    for (const f of [100, 1000, 6000, 12000]) {
      const y = delayed(sine(f, 0.5, 0.2), 10.3);
      const wanted = sine(f, 0.5, 0.2, 48000, (-2 * Math.PI * f * 10.3) / 48000);
      let error = 0;
      for (let i = 200; i < y.length - 200; i++) error = Math.max(error, Math.abs(y[i]! - wanted[i]!));
      expect(20 * Math.log10(error / 0.5)).toBeLessThan(-70);
    }
  });
  test("a whole delay is a copy bit for bit", () => {
    const x = noise(500);
    expect(delayed(x, 7).slice(7)).toEqual(x.slice(0, 493));
  });
  test("levelAt reads a known sine", () => {
    expect(levelAt(sine(1000, 1, 1), 1000) - 20 * Math.log10(24000)).toBeCloseTo(0, 3);
  });
});
