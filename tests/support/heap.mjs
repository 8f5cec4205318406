// Loaded into a server under test that runs with --expose-gc: tells, when asked, how much is held in memory (bytes) once what nobody
// needs has been let go.
process.on("message", (asked) => {
  if (asked !== "held") return;
  globalThis.gc?.();
  const { heapUsed, external } = process.memoryUsage();
  process.send?.(heapUsed + external);
});
