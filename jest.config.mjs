export default {
  testEnvironment: "node",
  roots: ["<rootDir>/src", "<rootDir>/demo", "<rootDir>/tools"],
  testMatch: ["**/*.test.ts"],
  transform: {
    "^.+\\.tsx?$": ["@swc/jest", { jsc: { parser: { syntax: "typescript", tsx: true }, target: "es2022" } }],
  },
  setupFilesAfterEnv: ["<rootDir>/src/core/testing/equalSamples.ts"],
  // Looking these up in the sandbox's global object for every sample would make the signal code many times slower.
  sandboxInjectedGlobals: ["Math", "Number", "Float32Array", "Float64Array", "Int32Array", "Uint8Array"],
  testTimeout: 240000,
};
