import { availableParallelism } from "node:os";
import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    // Servers under test wait as much as they work: three files at a time even on two cores.
    maxWorkers: Math.max(3, availableParallelism() - 1),
    // Bounds for what hangs, not for what is slow: a shared machine has been seen to stand still for a minute.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    expect: { poll: { timeout: 120_000 } },
    projects: [
      {
        extends: true,
        test: {
          name: "parts",
          // Whatever is called a test is one, wherever it stands.
          include: ["**/*.test.{ts,tsx}"],
          exclude: ["tests/**", "node_modules/**", "dist/**"],
          // Files share what they load: loading it again for each took longer than the tests.
          isolate: false,
        },
      },
      {
        extends: true,
        test: {
          name: "whole",
          include: ["tests/**/*.test.{ts,tsx}"],
        },
      },
    ],
  },
});
