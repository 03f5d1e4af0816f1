import { describe, expect, test } from "@jest/globals";
import { isChoice, resolveParams, type AnyValues } from "../params";
import type { Processor, ProcessorType } from "../processor";
import { noise } from "../testing/signals";
import { processorTypes } from ".";

const rate = 48000;
const hits = Float64Array.from([300, 1200, 2500]);
const beats = Float64Array.from([0, 900, 1850, 2750]);
const out2 = (type: ProcessorType) => (type.widens ? 2 : 1);

function make(type: ProcessorType, values: AnyValues, channels = 1): Processor {
  const p = type.create();
  p.prepare({ sampleRate: rate, channels, maxFrames: 512 });
  p.set(resolveParams(type.params, values));
  p.reset();
  return p;
}
function run(
  type: ProcessorType,
  p: Processor,
  x: Float32Array,
  split: readonly number[],
  inPlace = false,
): Float32Array[] {
  const out = Array.from({ length: out2(type) }, () => new Float32Array(x.length));
  let at = 0;
  for (let b = 0; at < x.length; b++) {
    const n = Math.min(split[b % split.length]!, x.length - at);
    const input = [x.slice(at, at + n)];
    const y = inPlace
      ? [...input, ...(out2(type) === 2 ? [new Float32Array(n)] : [])]
      : out.map((o) => o.subarray(at, at + n));
    p.process(input, y, n, { position: at, key: null, hits, beats });
    if (inPlace) y.forEach((v, ch) => out[ch]!.set(v, at));
    at += n;
  }
  return out;
}
/** Settings away from the defaults, so that every part of a processor works. */
function lively(type: ProcessorType): AnyValues {
  const values: Record<string, string | number> = {};
  for (const [name, spec] of Object.entries(type.params))
    values[name] = isChoice(spec) ? spec.choices[spec.choices.length - 1]! : spec.default;
  Object.assign(values, type.lively);
  return values;
}

describe.each(processorTypes.map((t) => [t.type, t] as const))("%s keeps the contract", (_, type) => {
  const x = noise(4096, 11);
  const values = lively(type);

  test("any split into blocks gives the same output", () => {
    const whole = run(type, make(type, values), x, [512]);
    expect(run(type, make(type, values), x, [128])).toEqual(whole);
    expect(run(type, make(type, values), x, [1, 64, 37, 511])).toEqual(whole);
  });
  test("in place equals a copy", () => {
    expect(run(type, make(type, values), x, [128], true)).toEqual(run(type, make(type, values), x, [128]));
  });
  test("reset equals fresh, also after a sample that is no number", () => {
    const p = make(type, values);
    const bad = x.slice();
    bad[77] = NaN;
    run(type, p, bad, [128]);
    p.reset();
    expect(run(type, p, x, [128])).toEqual(run(type, make(type, values), x, [128]));
  });
  test("silence stays silent and finite, also after a loud sound", () => {
    const p = make(type, values);
    run(type, p, x, [128]);
    const tail = run(type, p, new Float32Array(rate * 12), [512]);
    for (const y of tail) {
      expect(y.every((v) => Number.isFinite(v))).toBe(true);
      expect(Math.max(...y.slice(-2048).map(Math.abs))).toBeLessThan(1e-6);
    }
  });
  test("values outside the range are refused with name, value and range", () => {
    for (const [name, spec] of Object.entries(type.params)) {
      if (isChoice(spec)) expect(() => resolveParams(type.params, { [name]: "no such" })).toThrow(RangeError);
      else {
        expect(() => resolveParams(type.params, { [name]: spec.max + 1 })).toThrow(
          new RegExp(`${name} is .*between ${spec.min}`),
        );
        expect(() => resolveParams(type.params, { [name]: NaN })).toThrow(TypeError);
      }
    }
    expect(() => resolveParams(type.params, { nonsense: 1 })).toThrow(/unknown parameter "nonsense"/);
  });
  test("the stated latency is the one it has: an impulse that it leaves alone comes out that late", () => {
    const p = make(type, type.transparent);
    const [y] = run(
      type,
      p,
      Float32Array.from({ length: 16384 }, (_, i) => (i === 100 ? 0.25 : 0)),
      [128],
    );
    const peak = y!.reduce((most, v, i) => (Math.abs(v) > Math.abs(y![most]!) ? i : most), 0);
    expect(Number.isInteger(p.latency)).toBe(true);
    expect(peak).toBe(100 + p.latency);
  });
});
