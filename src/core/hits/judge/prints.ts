import { median, quantile } from "../../signal/level";
import { isShell, type Piece } from "../../song/song";
import { bands } from "../bandEnergies";
import { isCymbal } from "../ownBands";
import { bandsAsked, bandsOf, bestMean, decibels, Explained, groundOf, type Source } from "./explained";
import { explainer } from "./explainer";
import type { Instants, Row } from "./instants";
import { newTable, rowAt, rowsOf } from "./table";

/** Where values fall into two heaps that lie well apart: between them; otherwise 0. */
function split(values: readonly number[]): number {
  if (values.length < 8) return 0;
  let [low, high] = [quantile(values, 0.05), quantile(values, 0.95)];
  for (let n = 0; n < 20; n++) {
    const middle = 0.5 * (low + high);
    const [a, b] = [values.filter((v) => v <= middle), values.filter((v) => v > middle)];
    if (a.length === 0 || b.length === 0) return 0;
    low = median(a);
    high = median(b);
  }
  const share = values.filter((v) => v > 0.5 * (low + high)).length / values.length;
  return high - low > 8 && share > 0.04 && share < 0.96 ? 0.5 * (low + high) : 0;
}

/** Instants from which prints are learnt at most, about a minute of playing, and the parts of the song from which they come. */
const mostLearnt = 4500;
const learntParts = 15;

/** dB over everything that is explained from which the overheads hear something else. */
const clearFar = 6;

/** dB by which another drum's mic must hear a drum louder than its own for that to be no drum of its own. */
const echoOver = 4;
/** dB by which a shell's highest band may stand over its body. */
const hissOver = 6;

/** Steps towards the loudness of the sources, while prints are learnt and when they are. */
const stepsWhileLearning = 8;
const stepsAtLast = 20;

/**
 * How every mic hears every drum (its print: energies by row and band for a stroke that brings 1 into its main row), learnt
 * from the recording itself, and how loud each drum is at every instant by that.
 * Kick and snare are learnt from their loudest strokes, toms from what these do not explain and their own mic hears best,
 * cymbals from what no shell explains, and what only the overheads hear last; then all again, the others taken off.
 */
export class StrokePrints extends Explained {
  constructor(
    pieces: readonly Piece[],
    rows: readonly Row[],
    instants: Instants,
    /** Cymbals without a mic of their own. */
    missing: readonly Piece[] = [],
    most = mostLearnt,
  ) {
    super(groundOf(pieces, rows, instants, missing));
    if (instants.columns.length > most) {
      this.learnFromParts(most);
      return;
    }
    this.learnShells();
    this.learnCymbals();
    this.learnFar();
    for (let round = 0; round < 2; round++) this.refine();
    this.loudness = newTable(0, 0);
    this.solve(stepsAtLast);
  }

  private get all(): number[] {
    return Array.from({ length: this.count }, (_, i) => i);
  }

  /** Prints of a long song are learnt from parts of it, spread over the whole; then all of it is explained by them. */
  private learnFromParts(most: number): void {
    const stride = this.count / learntParts;
    const chosen = this.all.filter((i) => i % stride < most / learntParts);
    const parts: Instants = {
      columns: Int32Array.from(chosen, (i) => this.instants.columns[i]!),
      heard: rowsOf(this.instants.heard, chosen),
    };
    const learnt = new StrokePrints(this.pieces, this.rows, parts, this.missing, chosen.length);
    this.sources.push(...learnt.sources);
    this.prints.push(...learnt.prints);
    this.solve(stepsAtLast);
  }

  /** Loudness of all sources at all instants by the prints there are. */
  private solve(steps: number): void {
    const explain = explainer(this.floor, this.prints, this.weights);
    const loudness = newTable(this.count, this.prints.length);
    for (let i = 0; i < this.count && this.prints.length > 0; i++) {
      const heard = this.heard(i);
      const before = rowAt(this.loudness, i);
      const bounds = this.sources.map((source, k) => this.bounds(heard, source, k));
      const most = Float64Array.from(bounds, ([, high]) => high);
      const start = Float64Array.from(bounds, ([low, high], k) => Math.min(high, before[k] ?? low));
      rowAt(loudness, i).set(explain(heard, start, most, steps));
    }
    this.loudness = loudness;
  }
  /** What its own row hears bounds how loud a source can be: by the band that hears least of it, and by the middle one. */
  private bounds(heard: Float64Array, source: Source, k: number): [number, number] {
    const row = this.rowOf(source);
    const print = this.prints[k]!;
    const ratios: number[] = [];
    let least = Infinity;
    for (let b = 0; b < bands; b++) {
      const r = row * bands + b;
      const ratio = (heard[r]! + this.floor[r]!) / print[r]!;
      if (print[r]! > 0.003) ratios.push(ratio);
      if (print[r]! > 0.02) least = Math.min(least, ratio);
    }
    const most = ratios.length === 0 ? 1e-12 : 1.6 * quantile(ratios, 0.5) + 1e-12;
    return [Math.min(most, (Number.isFinite(least) ? least : 0) + 1e-12), most];
  }

  /**
   * Print from how some instants are heard, the other sources taken off when `but` is told: low quantiles of the ratios to
   * what comes into the main row, since others sound along. Null with fewer than two.
   */
  private learn(source: Source, chosen: readonly number[], but?: number): Float64Array | null {
    const row = this.rowOf(source);
    const parts = chosen.flatMap((i) => {
      const all = this.heard(i);
      const others = but === undefined ? null : this.predictedBut(i, but);
      const heard = others ? all.map((v, r) => Math.max(0.05 * v, v + this.floor[r]! - others[r]!)) : all;
      const sum = bandsOf(source).reduce((s, b) => s + heard[row * bands + b]!, 0);
      return sum < 1e-13 ? [] : [heard.map((v) => v / sum)];
    });
    if (parts.length < 2) return null;
    const print = this.floor.map((_, r) =>
      quantile(
        parts.map((p) => p[r]!),
        Math.floor(r / bands) === row ? 0.45 : 0.3,
      ),
    );
    return this.normalized(print, row);
  }
  private normalized(print: Float64Array, row: number): Float64Array {
    let own = 1e-30;
    for (let b = 0; b < bands; b++) own += print[row * bands + b]!;
    return print.map((v) => Math.min(1e4, v / own) + 1e-7);
  }
  private add(learnt: readonly (readonly [Source, Float64Array | null])[]): void {
    for (const [source, print] of learnt)
      if (print) {
        this.sources.push(source);
        this.prints.push(print);
      }
    this.solve(stepsWhileLearning);
  }

  private learnShells(): void {
    const shells = this.pieces.flatMap((piece, p) => (isShell(piece) ? [p] : []));
    const { all } = this;
    const purity = (i: number, p: number, among: readonly number[]) =>
      this.relative(i, p) - Math.max(-60, ...among.filter((q) => q !== p).map((q) => this.relative(i, q)));
    const first = shells.filter((p) => this.pieces[p] === "kick" || this.pieces[p] === "snare");
    this.add(
      first.map((p) => {
        const top = all.filter((i) => this.relative(i, p) > -9);
        const sorted = top.sort((x, y) => purity(y, p, first) - purity(x, p, first));
        return [
          this.pieces[p]!,
          this.learn(this.pieces[p]!, sorted.slice(0, Math.max(4, Math.round(0.5 * sorted.length)))),
        ];
      }),
    );
    let rest = shells.filter((p) => !first.includes(p));
    while (rest.length > 0) {
      const scored = rest.map((p) => {
        const piece = this.pieces[p]!;
        const clear = all
          .filter((i) => this.relative(i, p) > -10 && this.fresh[i] && this.hasAttack(i, piece))
          .map((i) => ({ i, score: Math.min(20, this.excess(i, piece)) + purity(i, p, shells) }))
          .filter((t) => t.score > 9)
          .sort((x, y) => y.score - x.score);
        const chosen = clear.slice(0, Math.max(3, Math.round(0.7 * clear.length)));
        return {
          p,
          chosen: chosen.map((c) => c.i),
          score: chosen.length < 2 ? -1 : median(chosen.map((c) => c.score)),
        };
      });
      const best = scored.sort((x, y) => y.score - x.score)[0]!;
      rest = rest.filter((p) => p !== best.p);
      const piece = this.pieces[best.p]!;
      const print = best.score > 0 ? this.learn(piece, best.chosen) : null;
      if (print && !this.isEcho(piece, print)) this.add([[piece, print]]);
    }
  }
  /**
   * True for a print of a tom that nobody strikes: what another drum's mic hears far louder, by how both hear kick and snare, is
   * that drum, and what has no body is a cymbal.
   */
  private isEcho(piece: Piece, print: Float64Array): boolean {
    const own = this.rowOf(piece);
    const body = Math.max(...[0, 1, 2].map((b) => print[own * bands + b]!));
    if (decibels(print[own * bands + bands - 1]! / body) > hissOver) return true;
    const known = this.sources.flatMap((s, k) => (s === "kick" || s === "snare" ? [this.prints[k]!] : []));
    if (known.length === 0) return false;
    const inRow = (p: Float64Array, row: number) =>
      0.25 * [1, 2, 3, 4].reduce((sum, b) => sum + decibels(p[row * bands + b]!), 0);
    const heardIn = (row: number) =>
      inRow(print, row) - known.reduce((sum, p) => sum + inRow(p, row), 0) / known.length;
    const others = this.pieces.filter((p) => isShell(p) && p !== piece).map((p) => this.rowOf(p));
    return others.some((row) => heardIn(row) > heardIn(own) + echoOver);
  }
  private hasAttack(i: number, piece: Piece): boolean {
    const own = this.own(i, this.rowOf(piece));
    return own[3]! + own[4]! > 1e-4 * own.reduce((s, v) => s + v, 0);
  }

  /** What no print explains of the energy in a piece's own row. */
  private left(i: number, piece: Piece): number {
    const row = this.rowOf(piece);
    const predicted = this.predictedBut(i, -1);
    return bandsOf(piece).reduce((s, b) => {
      const r = row * bands + b;
      return s + Math.max(0, this.heard(i)[r]! + this.floor[r]! - predicted[r]!);
    }, 0);
  }
  private learnCymbals(): void {
    const cymbals = this.pieces.filter(isCymbal);
    const { all } = this;
    // Mics are recorded at any gain: how they hear the shells tells what is loud in them.
    const gainDb = new Map(
      cymbals.map((piece) => {
        const row = this.rowOf(piece);
        const levels = this.prints.flatMap((print, k) =>
          isShell(this.sources[k] as Piece)
            ? [decibels(print[row * bands + 3]! + print[row * bands + 4]!)]
            : [],
        );
        return [piece, levels.length === 0 ? 0 : median(levels)] as const;
      }),
    );
    const heardBy = (i: number, piece: Piece) => decibels(this.left(i, piece) + 1e-12) - gainDb.get(piece)!;
    this.add(
      cymbals.map((piece) => {
        const least = 0.01 * this.loud[this.pieces.indexOf(piece)]!;
        const clear = all.filter(
          (i) => this.fresh[i] && this.excess(i, piece) > 5 && this.left(i, piece) > least,
        );
        const amounts = clear.map((i) => this.left(i, piece));
        const usual = quantile(amounts, 0.9);
        const chosen = clear.filter((_, n) => amounts[n]! > usual * 0.15);
        const others = cymbals.filter((q) => q !== piece);
        const lead = chosen.map(
          (i) => heardBy(i, piece) - Math.max(-200, ...others.map((q) => heardBy(i, q))),
        );
        const limit = others.length === 0 ? -Infinity : split(lead);
        const mine = chosen.filter((_, n) => lead[n]! > limit);
        return [piece, mine.length < 4 ? null : this.learn(piece, mine)];
      }),
    );
  }

  /** Cymbals without a mic: what only the overheads hear, as one source named after the first of them. */
  private learnFar(): void {
    const { overheads, far: piece } = this;
    if (!piece) return;
    const over = (i: number, row: number, predicted: Float64Array) =>
      Math.min(
        ...[4, 5].map((b) =>
          decibels(
            (this.heard(i)[row * bands + b]! + this.floor[row * bands + b]!) / predicted[row * bands + b]!,
          ),
        ),
      );
    const level = (i: number) =>
      overheads.reduce((s, row) => s + this.own(i, row)[4]! + this.own(i, row)[5]!, 0);
    const clear = this.all.flatMap((i) => {
      const predicted = this.fresh[i] ? this.predictedBut(i, -1) : null;
      return predicted && overheads.some((row) => over(i, row, predicted) > clearFar) ? [i] : [];
    });
    const usual = quantile(clear.map(level), 0.8);
    const strong = clear.filter((i) => level(i) > 0.1 * usual);
    if (strong.length < 2) return;
    this.add([[piece, this.learn(piece, strong)]]);
  }

  /** Prints anew from the fresh instants at which a source explains most of what its own row hears. */
  private refine(): void {
    const next = this.sources.map((source, k) => {
      const row = this.rowOf(source);
      const strong = this.all.map((i) => this.loudnessOf(i, k)).sort((x, y) => y - x)[5] ?? 0;
      const chosen = this.all.flatMap((i) => {
        const own = this.loudnessOf(i, k);
        if (!this.fresh[i] || own < 0.03 * strong) return [];
        const predicted = this.predictedBut(i, k);
        const over = bandsOf(source).map((b) =>
          decibels((own * this.prints[k]![row * bands + b]!) / predicted[row * bands + b]!),
        );
        return bestMean(over, bandsAsked(source)) > 6 ? [{ i, own }] : [];
      });
      const usual = quantile(
        chosen.map((c) => c.own),
        0.7,
      );
      const loud = chosen.filter((c) => c.own > 0.15 * usual).map((c) => c.i);
      return loud.length < 4 ? null : this.learn(source, loud, k);
    });
    next.forEach((print, k) => {
      if (print)
        this.prints[k] = this.normalized(
          print.map((v, r) => Math.sqrt(v * this.prints[k]![r]!)),
          this.rowOf(this.sources[k]!),
        );
    });
    this.solve(stepsWhileLearning);
  }
}
