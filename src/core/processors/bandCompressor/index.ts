import { BandCompressorLanes } from "./lanes";
import { declare, type Processor } from "../../processor";
import { BandCompressor, bandCompressorParams } from "./bandCompressor";

const rest = { ratio1: 1, ratio2: 1, ratio3: 1, ratio4: 1 };

export const bandCompressor = declare({
  type: "bandCompressor",
  label: "Band compressor",
  help: "A compressor for each of 2 to 4 bands; what is not turned down adds up flat.",
  params: bandCompressorParams,
  step: "shape",
  place: "free",
  purpose: "dynamics",
  meters: true,
  picture: { over: "strokes", shows: "reductions", level: null },
  main: ["bands", "cross1", "threshold1", "ratio1", "attack1", "release1", "makeup1", "hear"],
  idle: ({ bands }) =>
    Object.keys(bandCompressorParams).filter((name) => {
      const n = Number(/\d$/.exec(name)?.[0] ?? 0);
      return name.startsWith("cross") ? n >= Number(bands) : n > Number(bands);
    }),
  lively: { hear: "all", ratio2: 4, ratio3: 2, ratio4: 3 },
  transparent: rest,
  create: () => new BandCompressor() as unknown as Processor,
  lanes: (format) => new BandCompressorLanes(format),
});
