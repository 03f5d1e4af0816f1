// Bundles what does not run inside Next: the command line with its server parts, the worklet and the web workers.
import { build } from "esbuild";
import "./kernels.mjs";

const common = { bundle: true, sourcemap: true, logLevel: "warning", target: "es2022" };
await build({
  ...common,
  entryPoints: {
    cli: "src/cli/main.ts",
    setup: "src/server/setup.ts",
    server: "src/server/main.ts",
    bankWorker: "src/server/render/bankWorker.ts",
    taskWorker: "src/server/analysis/taskWorker.ts",
    decodeWorker: "src/server/audio/decodeWorker.ts",
    convertWorker: "src/server/audio/convertWorker.ts",
    storeWorker: "src/server/audio/storeWorker.ts",
  },
  outdir: "dist",
  outExtension: { ".js": ".mjs" },
  platform: "node",
  format: "esm",
  packages: "external",
});
await build({
  ...common,
  entryPoints: {
    worklet: "src/playback/worklet.ts",
    streamWorker: "src/playback/streamWorker.ts",
    evidenceWorker: "src/playback/evidenceWorker.ts",
  },
  outdir: "public/jubo",
  platform: "browser",
  format: "esm",
  minify: true,
});
