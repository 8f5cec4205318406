import type { Migration } from "kysely";
import { beginning } from "./migrations/001-beginning.ts";
import { waysIn } from "./migrations/002-ways-in.ts";
import { answering } from "./migrations/003-answering.ts";
import { routing } from "./migrations/004-routing.ts";
import { bells } from "./migrations/005-bells.ts";
import { slices } from "./migrations/006-slices.ts";
import { leadRows } from "./migrations/007-lead-rows.ts";
import { takenToday } from "./migrations/008-taken-today.ts";
import { doors } from "./migrations/009-doors.ts";
import { tests } from "./migrations/010-tests.ts";
import { stages } from "./migrations/011-stages.ts";
import { conversations } from "./migrations/012-conversations.ts";
import { letters } from "./migrations/013-letters.ts";
import { cadences } from "./migrations/014-cadences.ts";
import { customers } from "./migrations/015-customers.ts";
import { lists } from "./migrations/016-lists.ts";
import { search } from "./migrations/017-search.ts";
import { today } from "./migrations/018-today.ts";
import { listWatches } from "./migrations/019-list-watches.ts";
import { figures } from "./migrations/020-figures.ts";
import { lab } from "./migrations/021-lab.ts";
import { privacy } from "./migrations/022-privacy.ts";
import { hookLanes } from "./migrations/023-hook-lanes.ts";
import { openLinks } from "./migrations/024-open-links.ts";
import { manyYears } from "./migrations/025-many-years.ts";

/** Migrations in order; never change one that has shipped, add another. */
export const migrations: Record<string, Migration> = {
  "001-beginning": beginning,
  "002-ways-in": waysIn,
  "003-answering": answering,
  "004-routing": routing,
  "005-bells": bells,
  "006-slices": slices,
  "007-lead-rows": leadRows,
  "008-taken-today": takenToday,
  "009-doors": doors,
  "010-tests": tests,
  "011-stages": stages,
  "012-conversations": conversations,
  "013-letters": letters,
  "014-cadences": cadences,
  "015-customers": customers,
  "016-lists": lists,
  "017-search": search,
  "018-today": today,
  "019-list-watches": listWatches,
  "020-figures": figures,
  "021-lab": lab,
  "022-privacy": privacy,
  "023-hook-lanes": hookLanes,
  "024-open-links": openLinks,
  "025-many-years": manyYears,
};
