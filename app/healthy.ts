/** Asks the desk on this machine whether it is well, and ends with 0 when it is: for whatever keeps it running. */
const port = process.env.PORT ?? "4321";
try {
  const response = await fetch(`http://127.0.0.1:${port}/api/v1/health`, {
    signal: AbortSignal.timeout(4_000),
  });
  console.log(await response.text());
  process.exit(response.ok ? 0 : 1);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
}

export {};
