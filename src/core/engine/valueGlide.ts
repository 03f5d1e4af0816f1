import { isChoice, resolveParams, type ParamTable, type ParamValue } from "../params";

/** Share of the way a gliding parameter goes in one block of 128 frames: 63 % in about 8 ms at 48 kHz. */
const glideShare = 0.28;

/** Values of a processor on their way to what is wanted: numbers glide, choices take hold at once. */
export class ValueGlide {
  readonly values: Record<string, ParamValue>;
  private readonly targets: Record<string, ParamValue>;
  private readonly gliding = new Set<string>();

  constructor(
    private readonly table: ParamTable,
    given: Readonly<Record<string, ParamValue>>,
  ) {
    this.values = { ...resolveParams(table, given) };
    this.targets = { ...this.values };
  }

  want(name: string, value: ParamValue): void {
    if (this.targets[name] === value) return;
    this.targets[name] = value;
    if (isChoice(this.table[name]!)) this.values[name] = value;
    this.gliding.add(name);
  }
  /** Goes to all targets at once, as after a jump. True when something moved. */
  jump(): boolean {
    if (this.gliding.size === 0) return false;
    for (const name of this.gliding) this.values[name] = this.targets[name]!;
    this.gliding.clear();
    return true;
  }
  /** One block further; true when something moved. */
  step(): boolean {
    if (this.gliding.size === 0) return false;
    for (const name of this.gliding) {
      const spec = this.table[name]!;
      const target = this.targets[name]!;
      const value = this.values[name]!;
      if (isChoice(spec) || typeof target !== "number" || typeof value !== "number") {
        this.gliding.delete(name);
        continue;
      }
      const log = spec.scale === "log" && value > 0 && target > 0;
      const next = log ? value * Math.pow(target / value, glideShare) : value + glideShare * (target - value);
      const close =
        Math.abs(target - next) < 1e-4 * (spec.max - spec.min) || (log && Math.abs(target / next - 1) < 1e-3);
      this.values[name] = close ? target : next;
      if (close) this.gliding.delete(name);
    }
    return true;
  }
}
