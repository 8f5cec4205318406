/**
 * The floors of the house. What stands higher may know what stands lower, never the other way round, and nothing knows
 * itself by a detour. Type-only imports count: a type that lies too high is a floor that lies too high.
 */

/** Floors of the core, the lowest first; rooms on one floor do not know each other unless their order here says so. */
const CORE = [
  ["core/vocabulary.ts", "core/refusal.ts", "core/statistics"],
  ["core/time"],
  ["core/contact", "core/money"],
  ["core/condition"],
  ["core/backup"],
  ["core/policy"],
  ["core/rotation", "core/booking", "core/import", "core/worksheet"],
  ["core/lead"],
  ["core/book"],
  ["core/access"],
  ["core/intake"],
  ["core/response", "core/cadence"],
  ["core/words"],
  ["core/message"],
  ["core/source"],
  ["core/routing", "core/setup"],
  ["core/desk"],
  ["core/report"],
  ["core/playback"],
  ["core/lab"],
];
const FLOORS = [["core"], ["server", "standins"], ["demo"], ["app"], ["web"]];

const under = (places) => `^(${places.map((p) => p.replace(/\./g, "\\.")).join("|")})(/|$)`;

/** No arrow up: a rule for each floor, forbidding all that stands above it. */
const noArrowUp = (floors, name) =>
  floors.flatMap((floor, i) => {
    const above = floors.slice(i + 1).flat();
    return above.length === 0
      ? []
      : [
          {
            name: `${name}: ${floor.join(", ")} stands below`,
            severity: "error",
            from: { path: under(floor), pathNot: "\\.test\\.tsx?$" },
            to: { path: under(above) },
          },
        ];
  });

/** Rooms on one floor of the core do not know each other. */
const noNeighbours = CORE.flatMap((floor) =>
  floor.length < 2
    ? []
    : floor.map((room) => ({
        name: `core: ${room} does not know its neighbours`,
        severity: "error",
        from: { path: under([room]), pathNot: "\\.test\\.tsx?$" },
        to: { path: under(floor.filter((other) => other !== room)) },
      })),
);

module.exports = {
  forbidden: [
    {
      name: "no circle",
      severity: "error",
      comment: "Files that know each other in a circle are one thing in several files.",
      from: { pathNot: "\\.test\\.tsx?$" },
      to: { circular: true },
    },
    ...noArrowUp(CORE, "core"),
    ...noNeighbours,
    ...noArrowUp(FLOORS, "house"),
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: { extensions: [".ts", ".tsx", ".mjs", ".js"] },
  },
};
