import { benchBackup } from "./backup.ts";
import { benchBells } from "./bells.ts";
import { benchBoard } from "./board.ts";
import { benchBrowser } from "./browser.ts";
import { benchCadences } from "./cadences.ts";
import { benchCalendar } from "./calendar.ts";
import { benchFigures } from "./figures.ts";
import { benchFinding } from "./finding.ts";
import { benchHooks } from "./hooks.ts";
import { benchImport } from "./import.ts";
import { benchIntake } from "./intake.ts";
import { benchLab } from "./lab.ts";
import { benchListing } from "./listing.ts";
import { benchMany } from "./many.ts";
import { benchMatching } from "./matching.ts";
import { benchReading } from "./reading.ts";
import { benchRouting } from "./routing.ts";
import { benchScale } from "./scale.ts";
import { removeFolders } from "./support.ts";

/** `npm run bench [-- NAME …]`: everything, or what is named. */
const all = {
  calendar: benchCalendar,
  intake: benchIntake,
  reading: benchReading,
  browser: benchBrowser,
  hooks: benchHooks,
  backup: benchBackup,
  import: benchImport,
  matching: benchMatching,
  routing: benchRouting,
  bells: benchBells,
  cadences: benchCadences,
  board: benchBoard,
  figures: benchFigures,
  lab: benchLab,
  finding: benchFinding,
  listing: benchListing,
  many: benchMany,
  scale: benchScale,
};
const named = process.argv.slice(2).filter((name): name is keyof typeof all => name in all);
try {
  for (const name of named.length > 0 ? named : (Object.keys(all) as (keyof typeof all)[])) await all[name]();
} finally {
  await removeFolders();
}
