export default {
  testEnvironment: "node",
  roots: ["<rootDir>/src", "<rootDir>/demo"],
  testMatch: ["**/*.test.ts"],
  transform: {
    "^.+\\.tsx?$": ["@swc/jest", { jsc: { parser: { syntax: "typescript", tsx: true }, target: "es2022" } }],
  },
  testTimeout: 120000,
};
