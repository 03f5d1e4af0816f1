import { at, downPairs, most, upPairs, widePairs, double, halve, halveLines, halveShort, oneLate, symmetric } from "./rateFilters";
import { floats, mask } from "./lanes";
import { hard, rounded, soft } from "./bends";
import { bendHarmonics } from "./harmonics";
import { OF_HARMONICS } from "../../processors/harmonics/rows";
import { DRIVE, BIAS, CENTRE, WET, STRAIGHT, HARD, ROUNDED } from "../../processors/saturation/rows";

// Pairs of taps of the filters: see signal/oversampler.ts.
const shortUp = 12, shortWide = 4, shortDown = 16;
// Where the lines of the filters lie in the state, in bytes; each holds its past and then one block.
const upSteep: usize = 0;
const upWide: usize = upSteep + <usize>(2 * upPairs - 1 + most) * 16;
const downWideEven: usize = upWide + <usize>(2 * widePairs - 1 + 2 * most) * 16;
const downWideOdd: usize = downWideEven + <usize>(2 * widePairs - 1 + 2 * most) * 16;
const downSteepEven: usize = downWideOdd + <usize>(2 * widePairs - 1 + 2 * most) * 16;
const downSteepOdd: usize = downSteepEven + <usize>(2 * downPairs - 1 + most) * 16;
const held: usize = downSteepOdd + <usize>(2 * downPairs - 1 + most) * 16;
/** Bytes of the state of the steep way. */
export const saturationState: i32 = <i32>held + 16;
// The same for the short ways. The first line also holds what makes all ways equally late.
const longestWait = 65;
const shortUpFirst: usize = 0;
const shortUpSecond: usize = shortUpFirst + <usize>(longestWait + 2 * shortUp - 1 + most) * 16;
const shortUpThird: usize = shortUpSecond + <usize>(2 * shortWide - 1 + 2 * most) * 16;
const thirdEven: usize = shortUpThird + <usize>(2 * shortWide - 1 + 4 * most) * 16;
const thirdOdd: usize = thirdEven + <usize>(2 * shortWide - 1 + 4 * most) * 16;
const secondEven: usize = thirdOdd + <usize>(2 * shortWide - 1 + 4 * most) * 16;
const secondOdd: usize = secondEven + <usize>(2 * shortWide - 1 + 2 * most) * 16;
const firstEven: usize = secondOdd + <usize>(2 * shortWide - 1 + 2 * most) * 16;
const firstOdd: usize = firstEven + <usize>(2 * shortDown + most) * 16;
const shortHeld: usize = firstOdd + <usize>(2 * shortDown + most) * 16;
/** Bytes of the state of a short way. */
export const saturationShortState: i32 = <i32>shortHeld + 16;
/** Bytes that one call needs for itself; shared by all. */
export const saturationScratch: i32 = (2 + 4 + 1) * most * 16;

/**
 * Bends x into y. `characters`: bits 1 soft, 2 rounded, 4 hard of those that some lane has, or those of harmonics, of which
 * `drives` holds a drive for every 2^`shift` frames, or is 0.
 */
@inline function bend(p: usize, characters: i32, drives: usize, shift: i32, x: usize, y: usize, frames: i32): void {
  if (characters & OF_HARMONICS) {
    bendHarmonics(p, characters, drives, shift, x, y, frames);
    return;
  }
  const drive = floats(p, DRIVE), bias = floats(p, BIAS), centre = floats(p, CENTRE);
  const isHard = mask(p, HARD), isRounded = mask(p, ROUNDED);
  if (characters == 1)
    for (let i = 0; i < frames; i++) {
      const v = f32x4.add(f32x4.mul(drive, v128.load(at(x, i))), bias);
      v128.store(at(y, i), f32x4.sub(soft(v), centre));
    }
  else
    for (let i = 0; i < frames; i++) {
      const v = f32x4.add(f32x4.mul(drive, v128.load(at(x, i))), bias);
      const bent = v128.bitselect(hard(v), v128.bitselect(rounded(v), soft(v), isRounded), isHard);
      v128.store(at(y, i), f32x4.sub(bent, centre));
    }
}

/**
 * Doubles the rate of a line, bends, and halves it again into y: the even and the odd frames of the doubled rate lie in lines of
 * their own all the way.
 */
@inline function bendBetween(p: usize, characters: i32, drives: usize, shift: i32, taps: usize, pairs: i32, line: usize, even: usize, odd: usize, y: usize, frames: i32): void {
  const past = 2 * pairs - 1;
  symmetric(taps, pairs, line, pairs, 1, at(even, past), 1, 2, frames);
  bend(p, characters, drives, shift, at(even, past), at(even, past), frames);
  bend(p, characters, drives, shift, at(line, pairs), at(odd, past), frames);
  memory.copy(line, at(line, frames), <usize>past << 4);
  halveLines(taps, pairs, even, odd, y, frames);
}

/** x of what was bent, which lies there, and of `dry`, which is as late. */
@inline function mix(p: usize, dry: usize, x: usize, frames: i32): void {
  const wet = floats(p, WET), straight = floats(p, STRAIGHT);
  for (let i = 0; i < frames; i++)
    v128.store(at(x, i), f32x4.add(f32x4.mul(wet, v128.load(at(x, i))), f32x4.mul(straight, v128.load(at(dry, i)))));
}

/**
 * Saturation at four times the rate by steep filters, x in place; `dry` is x as late as the result, or 0: nothing is mixed. The taps of the three
 * half-band filters follow each other: up, wide, down.
 * The scalar reference is processors/saturation/saturation.ts with signal/oversampler.ts.
 */
export function saturation(p: usize, s: usize, taps: usize, scratch: usize, characters: i32, drives: usize, dry: usize, x: usize, frames: i32): void {
  const up = taps, wide = taps + <usize>upPairs * 4, down = wide + <usize>widePairs * 4;
  const twice = scratch;
  memory.copy(at(s + upSteep, 2 * upPairs - 1), x, <usize>frames << 4);
  double(up, upPairs, s + upSteep, at(s + upWide, 2 * widePairs - 1), frames);
  bendBetween(p, characters, drives, 1, wide, widePairs, s + upWide, s + downWideEven, s + downWideOdd, twice, 2 * frames);
  oneLate(s + held, twice, 2 * frames);
  halve(down, downPairs, s + downSteepEven, s + downSteepOdd, twice, x, frames);
  if (dry) mix(p, dry, x, frames);
}

/**
 * The same at 2, 4 or 8 times the rate (`factor`) by short filters, `wait` frames later. Taps: up, wide, then those of the way
 * down at odd and at even distances and the middle.
 */
export function saturationShort(p: usize, s: usize, taps: usize, scratch: usize, characters: i32, drives: usize, factor: i32, wait: i32, dry: usize, x: usize, frames: i32): void {
  const up = taps, wide = taps + <usize>shortUp * 4, down = wide + <usize>shortWide * 4;
  const twice = scratch, four = scratch + <usize>(2 * most) * 16, more = four + <usize>(4 * most) * 16;
  const first = s + shortUpFirst, past = wait + 2 * shortUp - 1;
  const second = s + shortUpSecond, third = s + shortUpThird, wideMid = 2 * shortWide - 1;
  // Each stage writes behind the past of the line that the next one reads.
  const doubled = factor == 2 ? twice : at(second, wideMid);
  memory.copy(at(first, past), x, <usize>frames << 4);
  for (let i = 0; i < frames; i++) v128.store(at(doubled, 2 * i + 1), v128.load(at(first, shortUp + i)));
  symmetric(up, shortUp, first, shortUp, 1, doubled, 2, 2, frames);
  memory.copy(first, at(first, frames), <usize>past << 4);
  if (factor == 2) {
    bend(p, characters, drives, 1, twice, twice, 2 * frames);
    oneLate(s + shortHeld, twice, 2 * frames);
  } else if (factor == 4) bendBetween(p, characters, drives, 1, wide, shortWide, second, s + secondEven, s + secondOdd, twice, 2 * frames);
  else {
    double(wide, shortWide, second, at(third, wideMid), 2 * frames);
    bendBetween(p, characters, drives, 2, wide, shortWide, third, s + thirdEven, s + thirdOdd, four, 4 * frames);
    oneLate(s + shortHeld, four, 4 * frames);
    halve(wide, shortWide, s + secondEven, s + secondOdd, four, twice, 2 * frames);
  }
  halveShort(down, shortDown, s + firstEven, s + firstOdd, twice, x, more, frames);
  if (dry) mix(p, dry, x, frames);
}

/** x where the mask of row 0 of p is set, else y, into y. */
export function choose(p: usize, x: usize, y: usize, frames: i32): void {
  const chosen = mask(p, 0);
  for (let i = 0; i < frames; i++)
    v128.store(at(y, i), v128.bitselect(v128.load(at(x, i)), v128.load(at(y, i)), chosen));
}
