import { monitorEventLoopDelay } from "node:perf_hooks";

// Loaded into a server under test: tells, when asked, for how long its thread stood still at most since it was asked last.
const delay = monitorEventLoopDelay({ resolution: 2 });
delay.enable();
process.on("message", () => {
  // What has come up just now is counted when the loop turns.
  setTimeout(() => {
    process.send?.(delay.max / 1e6);
    delay.reset();
  }, 20);
});
