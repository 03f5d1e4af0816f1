/** The seven steps in the order of work. */
export const steps = ["gather", "align", "tighten", "clean", "shape", "blend", "deliver"] as const;
export type Step = (typeof steps)[number];
