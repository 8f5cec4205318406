import { availableParallelism } from "node:os";
import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: [
      "core/**/*.test.ts",
      "server/**/*.test.ts",
      "standins/**/*.test.ts",
      "demo/**/*.test.ts",
      "web/**/*.test.{ts,tsx}",
      "tests/api/**/*.test.ts",
      "tests/crash/**/*.test.ts",
      "tests/hostile/**/*.test.ts",
      "tests/docs/**/*.test.ts",
    ],
    // Servers under test wait as much as they work: three files at a time even on two cores.
    maxWorkers: Math.max(3, availableParallelism() - 1),
    // Bounds for what hangs, not for what is slow: a shared machine has been seen to stand still for a minute.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    expect: { poll: { timeout: 120_000 } },
  },
});
