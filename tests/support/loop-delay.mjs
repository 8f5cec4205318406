import { openSync, readSync } from "node:fs";

// Loaded into a server under test: tells, when asked, for how long (ms) its thread was kept busy at most, between two
// turns of the loop, since it was asked last. What counts is the time the thread really ran (Linux's schedstat): a
// machine that does something else meanwhile is no fault of the desk's.
const file = openSync(`/proc/self/task/${process.pid}/schedstat`, "r");
const bytes = Buffer.alloc(64);
const ran = () =>
  Number.parseInt(bytes.toString("latin1", 0, readSync(file, bytes, 0, bytes.length, 0)), 10) / 1e6;

let before = ran();
let longest = 0;
setInterval(() => {
  const now = ran();
  longest = Math.max(longest, now - before);
  before = now;
}, 2).unref();
process.on("message", () => {
  // What has come up just now is counted when the loop turns.
  setTimeout(() => {
    process.send?.(longest);
    longest = 0;
  }, 20);
});
