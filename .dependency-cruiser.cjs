// Who may import whom inside the core: down only, and nothing in circles. Folders from the lowest to the highest.
const layers = [
  "signal", "kernels", "(params|schema|sameValue|steps)\\.ts", "lanes", "processor\\.ts", "processors", "song", "bleed", "measure",
  "grid", "file", "hits", "engine", "facts", "listen", "gather", "tighten", "align", "shape", "masking", "clean", "layers", "loops", "blend", "deliver", "analysis",
  "proposals",
]; // prettier-ignore

const path = (layer) => `^src/core/${layer}${layer.includes("\\.") ? "$" : "/"}`;

module.exports = {
  forbidden: [
    {
      name: "no-circle",
      severity: "error",
      comment: "Files that import each other in a circle can only be understood together.",
      from: { path: "^src/" },
      to: { circular: true },
    },
    ...layers.slice(0, -1).map((layer, i) => ({
      name: `${layer.replace(/[\\.()$]/g, "")}-imports-down`,
      severity: "error",
      comment: "Imports in the core point down only (docs/architecture.md).",
      from: { path: path(layer) },
      to: { path: layers.slice(i + 1).map(path) },
    })),
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    doNotFollow: { path: "node_modules" },
    // Tests may look at everything; what AssemblyScript compiles has a world of its own.
    exclude: { path: "\\.test\\.ts$|src/core/testing|kernels/assembly|\\.next" },
  },
};
