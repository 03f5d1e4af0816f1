import { afterEach, beforeEach, describe, expect, test } from "@jest/globals";
import { newProcessor } from "../core/song/create";
import { noise } from "../core/testing/signals";
import { EvidenceDesk, type ChainInput, type EvidenceKind, type EvidenceKinds } from "./evidence";

const rate = 48000;
/** Strokes twice a second that fall by 60 dB in 0.3 s, and what Cancel leaves of them from the second second on. */
const strokes = Array.from({ length: 10 }, (_, i) => 12000 + 24000 * i);
const recorded = noise(6 * rate, 3, 0.4);
for (let i = 0; i < recorded.length; i++) recorded[i]! *= 10 ** ((-3 * ((i + 12000) % 24000)) / (0.3 * rate));
const from = rate;
const cancelled = recorded.slice(from, 4 * rate).map((v) => 0.5 * v);

let asked: string[] = [];
/** Times that a stretch is still refused, because the song is being saved. */
let unsaved = 0;
const bytesOf = (x: Float32Array) => new Uint8Array(x.slice().buffer);

/** An answer whose bytes come in pieces that do not end where samples do. */
const inPieces = (bytes: Uint8Array, headers: Record<string, string>): Response => {
  const piece = 100_003;
  let at = 0;
  const body = new ReadableStream<Uint8Array>({
    pull(to) {
      if (at >= bytes.length) to.close();
      else to.enqueue(bytes.slice(at, (at += piece)));
    },
  });
  return new Response(body, { headers });
};

/** A server that holds one mic as 32-bit floats, and makes one stretch of it. */
const serve = async (path: string): Promise<Response> => {
  asked.push(path);
  if (path.includes("cancelled?strength=0"))
    return Response.json({ message: "too little strength" }, { status: 400 });
  if (unsaved > 0) {
    unsaved--;
    return Response.json({}, { status: 409 });
  }
  if (path.includes("/cancelled") || path.includes("/input"))
    return inPieces(bytesOf(cancelled), { "x-stretch": JSON.stringify({ from, channels: 1 }) });
  const stored = {
    sampleFormat: "float32",
    channels: 1,
    frameBytes: 4,
    dataStart: 0,
    frames: recorded.length,
  };
  return inPieces(bytesOf(recorded), { "x-audio": JSON.stringify(stored) });
};
const { fetch: former } = globalThis;
beforeEach(() => {
  asked = [];
  globalThis.fetch = ((path: string) => serve(path)) as typeof fetch;
});
afterEach(() => {
  globalThis.fetch = former;
});

const input = (over: Partial<ChainInput> = {}): ChainInput => ({
  source: { audio: "a", start: 0 },
  chain: [],
  strokes,
  sampleRate: rate,
  ...over,
});
const behind = { path: "/api/songs/s/mics/m/cancelled?strength=80", stands: "" };
const ask = <K extends EvidenceKind>(desk: EvidenceDesk, kind: K, question: EvidenceKinds[K]["ask"]) =>
  desk.answer({ id: 1, kind, ask: question }) as Promise<EvidenceKinds[K]["answer"]>;
const squeeze = newProcessor("m", "compressor", false, { threshold: -30, ratio: 4, makeup: 0 });
const effect = (desk: EvidenceDesk, over: Partial<ChainInput> = {}) =>
  ask(desk, "effect", { input: input(over), processor: squeeze, mains: strokes, ring: null });

describe("what comes into a processor", () => {
  test("as recorded: every stroke of the recording", async () => {
    const { strokes: over, peakBefore } = await effect(new EvidenceDesk());
    expect(over).toEqual(strokes);
    expect(peakBefore[0]).toBeGreaterThan(-9);
  });
  test("behind Cancel: the strokes of the stretch, where they lie in the recording, as Cancel leaves them", async () => {
    const desk = new EvidenceDesk();
    const [plain, clean] = [await effect(desk), await effect(desk, { source: behind })];
    expect(clean.strokes).toEqual(strokes.filter((f) => f >= from && f < 4 * rate));
    const same = plain.peakBefore[strokes.indexOf(clean.strokes[0]!)]!;
    expect(clean.peakBefore[0]! - same).toBeCloseTo(20 * Math.log10(0.5), 1);
    expect(asked.filter((p) => p.includes("/api/songs/s/mics/m/cancelled?strength=80"))).toHaveLength(1);
  });
  test("behind what stands before: 6 dB less come in, and less is taken", async () => {
    const desk = new EvidenceDesk();
    const quieter = await effect(desk, { chain: [newProcessor("m", "trim", true, { gain: -6 })] });
    const plain = await effect(desk);
    quieter.peakBefore.forEach((p, i) => expect(p).toBeCloseTo(plain.peakBefore[i]! - 6, 1));
    expect(quieter.reductionDb[3]).toBeLessThan(plain.reductionDb[3]!);
  });
  test("a mic and a stretch are fetched once, however often its processors are turned", async () => {
    const desk = new EvidenceDesk();
    for (let i = 0; i < 3; i++) await effect(desk, { source: behind });
    for (let i = 0; i < 3; i++) await effect(desk);
    expect(asked.filter((p) => p.includes("cancelled"))).toHaveLength(1);
    expect(asked.filter((p) => p.startsWith("/api/audio/a"))).toHaveLength(2); // its header, and its frames
  });
  test("what the server refuses is told in its words, and asked again the next time", async () => {
    const desk = new EvidenceDesk();
    const refused = { ...behind, path: behind.path.replace("80", "0") };
    for (let i = 0; i < 2; i++)
      await expect(effect(desk, { source: refused })).rejects.toThrow("too little strength");
    expect(asked.filter((p) => p.includes("strength=0"))).toHaveLength(2);
  });
  test("a stretch that hangs on something else now is made anew; what is not saved yet is waited for", async () => {
    const desk = new EvidenceDesk();
    await effect(desk, { source: behind });
    await effect(desk, { source: { ...behind, stands: "other strokes" } });
    expect(asked.filter((p) => p.includes("cancelled"))).toHaveLength(2);
    unsaved = 2;
    await effect(desk, { source: { path: "/api/songs/s/buses/b/input?stands=x", stands: "x" } });
    expect(asked.filter((p) => p.includes("/buses/b/input"))).toHaveLength(3);
  });
});

test("a level is fitted to a wished reduction of the strokes as they come in", async () => {
  const desk = new EvidenceDesk();
  const fit = (over: Partial<ChainInput>) =>
    ask(desk, "fit", {
      input: input(over),
      processor: squeeze,
      level: "threshold",
      mains: strokes,
      wishedDb: 5,
    });
  const plain = await fit({});
  const quieter = await fit({ chain: [newProcessor("m", "trim", true, { gain: -6 })] });
  expect(Math.abs(plain.reductionDb - 5)).toBeLessThan(0.5);
  expect(quieter.threshold).toBeCloseTo(plain.threshold - 6, 0);
});

test("spectra of a stretch are those of its strokes", async () => {
  const hits = strokes.map(
    (f) => ({ piece: "snare", time: f / rate, levelDb: -8, ghost: false, kind: "stroke", sure: 1 }) as const,
  );
  const desk = new EvidenceDesk();
  const spectra = (over: Partial<ChainInput>) =>
    ask(desk, "spectra", { input: input(over), pieces: ["snare"], hits, lateBy: 0 });
  expect((await spectra({})).strokes).toBe(10);
  expect((await spectra({ source: behind })).strokes).toBe(6);
});

test("quick controls are placed and matched by the strokes that come in; one channel has no sides to fold", async () => {
  const desk = new EvidenceDesk();
  const at = { input: input(), mains: strokes };
  const basis = (await ask(desk, "quick", { ...at, piece: "snare", fundamental: 190 }))!;
  expect(basis).toMatchObject({ fundamental: 190, strokes: 10 });
  const values = { weight: 0, stick: 0, air: 0, density: 100 };
  expect(await ask(desk, "quickLouder", { ...at, values, basis })).toBeLessThan(-1); // before its make-up
  expect(await ask(desk, "quickLouder", { ...at, values: { ...values, density: 0 }, basis })).toBe(0);
  expect(await ask(desk, "sides", at)).toBeNull();
  expect(await ask(desk, "quick", { ...at, mains: [], piece: null, fundamental: null })).toBeNull();
});
