import type { Restoring } from '../backups/restoring.ts';
import type { ChangeContext } from '../changes/context.ts';
import type { Database } from '../db/database.ts';
import type { Queue } from '../jobs/queue.ts';
import type { Counts } from '../library/facets/counts.ts';
import type { FacetCache } from '../library/facets/facets.ts';
import type { Sheets } from '../library/sheets.ts';
import type { HourPool } from '../hours/hourPool.ts';
import type { PlacesPool } from '../disk/placesPool.ts';
import type { ComparePool } from '../disk/comparePool.ts';
import type { RelinkPool } from '../disk/relinkPool.ts';
import type { Handover } from '../handover/compare.ts';
import type { States } from '../handover/states.ts';
import type { ListPool } from '../lists/listPool.ts';
import type { RuleMembers } from '../lists/ruleMembers.ts';
import type { Sticks } from '../stick/plan.ts';
import type { ArtStore } from '../media/art.ts';
import type { Runs } from '../runs/runs.ts';

/** What the routes work with. */
export interface Context {
  database: Database;
  queue: Queue;
  art: ArtStore;
  changing: ChangeContext;
  runs: Runs;
  facets: FacetCache;
  sheets: Sheets;
  counts: Counts;
  members: RuleMembers;
  listPool: ListPool;
  hourPool: HourPool;
  relinkPool: RelinkPool;
  comparePool: ComparePool;
  placesPool: PlacesPool;
  /** What is kept of destinations. */
  states: States;
  handover: Handover;
  sticks: Sticks;
  dataFolder: string;
  /** Null where whoever has started this server does not restore backups. */
  restoring: Restoring | null;
  demoRoot: string | null;
}
