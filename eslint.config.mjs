import js from "@eslint/js";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** Who may import whom: imports point down only (docs/architecture.md). */
const boundary = (files, forbidden) => ({
  files: [files],
  ignores: ["**/*.test.ts"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: forbidden.map((name) => ({
          group: [`**/${name}/**`, `@/${name}/**`],
          message: `${files} must not import ${name}`,
        })),
      },
    ],
  },
});

export default tseslint.config(
  {
    ignores: [
      "dist",
      ".next",
      "data",
      "public/jubo",
      "next-env.d.ts",
      "src/core/kernels/assembly",
      "src/core/kernels/bytes.ts",
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    languageOptions: { globals: { process: "readonly", console: "readonly", URL: "readonly" } },
    rules: {
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      "@typescript-eslint/no-non-null-assertion": "off",
      "@typescript-eslint/no-explicit-any": "error",
      eqeqeq: "error",
      "no-console": "error",
      "prefer-const": "error",
      "no-duplicate-imports": "error",
    },
  },
  { files: ["scripts/**", "tools/**"], rules: { "no-console": "off" } },
  { files: ["**/*.cjs"], languageOptions: { globals: { module: "writable" } } },
  {
    files: ["src/ui/**/*.{ts,tsx}", "src/app/**/*.{ts,tsx}"],
    plugins: { "react-hooks": reactHooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  boundary("src/core/**/*.ts", ["ui", "playback", "server", "app", "cli", "demo"]),
  boundary("src/contract/**/*.ts", ["ui", "playback", "server", "app", "cli"]),
  boundary("src/playback/**/*.ts", ["ui", "server", "app", "cli"]),
  boundary("src/ui/**/*.{ts,tsx}", ["server", "app", "cli"]),
  boundary("src/server/**/*.ts", ["ui", "app", "cli", "playback"]),
  boundary("demo/**/*.ts", ["ui", "server", "app", "cli", "playback"]),
);
