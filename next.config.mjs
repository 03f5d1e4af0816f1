import { fileURLToPath } from "node:url";

/** @type {import("next").NextConfig} */
export default {
  poweredByHeader: false,
  reactStrictMode: true,
  serverExternalPackages: [
    "pg",
    "pg-boss",
    "pg-copy-streams",
    "pino",
    "@alexanderolsen/libsamplerate-js",
    "libflacjs",
    "yauzl",
    "yazl",
  ],
  // Types are checked apart, of tests and tools as well (npm run types).
  typescript: { ignoreBuildErrors: true },
  // What a route takes as JSON at most (respond.ts) and a little more, so that too much is told as such and not cut.
  experimental: { proxyClientMaxBodySize: "17mb" },
  turbopack: { root: fileURLToPath(new URL(".", import.meta.url)) },
  sassOptions: {
    quietDeps: true,
    silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"],
  },
  async headers() {
    return [
      {
        source: "/:path*",
        headers: [
          // Shared memory between worker and worklet needs an isolated page.
          { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
          { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
          { key: "Cross-Origin-Resource-Policy", value: "same-origin" },
          { key: "X-Content-Type-Options", value: "nosniff" },
          { key: "X-Frame-Options", value: "DENY" },
          { key: "Referrer-Policy", value: "no-referrer" },
        ],
      },
      { source: "/jubo/:path*", headers: [{ key: "Cache-Control", value: "no-cache" }] },
    ];
  },
};
