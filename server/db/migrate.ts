/** Brings the schema up to date: plain SQL steps, kept in order by Umzug. What was there is dumped first. */
import { SequelizeStorage, Umzug } from 'umzug';
import { log } from '../base/log.ts';
import type { Database } from './database.ts';
import { restoreDatabase } from './dumps.ts';
import type { Migration } from './migration.ts';
import { first } from './migrations/001-first.ts';
import { gridFields } from './migrations/002-grid-fields.ts';
import { soundFields } from './migrations/003-sound-fields.ts';
import { gainFields } from './migrations/004-gain-fields.ts';
import { fileWrites } from './migrations/005-file-writes.ts';
import { recipes } from './migrations/006-recipes.ts';
import { catalogue } from './migrations/007-catalogue.ts';
import { namesAndTotals } from './migrations/008-names-and-totals.ts';
import { dates } from './migrations/009-dates.ts';
import { trackFiles } from './migrations/010-track-files.ts';
import { mergePolicies } from './migrations/011-merge-policies.ts';
import { presets } from './migrations/012-presets.ts';
import { moreTagFields } from './migrations/013-more-tag-fields.ts';
import { removedRoots } from './migrations/014-removed-roots.ts';
import { listShape } from './migrations/015-list-shape.ts';
import { listMarks } from './migrations/017-list-marks.ts';
import { arranging } from './migrations/018-arranging.ts';
import { uses } from './migrations/019-uses.ts';
import { counts } from './migrations/020-counts.ts';
import { hours } from './migrations/021-hours.ts';
import { airings } from './migrations/022-airings.ts';
import { duplicates } from './migrations/023-duplicates.ts';
import { watchedRoots } from './migrations/026-watched-roots.ts';
import { measureAgain } from './migrations/030-measure-again.ts';
import { destinations } from './migrations/031-destinations.ts';
import { takenTracks } from './migrations/032-taken-tracks.ts';
import { sticks } from './migrations/033-sticks.ts';
import { played } from './migrations/034-played.ts';
import { waveformsPacked } from './migrations/036-waveforms-packed.ts';
import { musicCopy } from './migrations/038-music-copy.ts';
import { searchLetters } from './migrations/039-search-letters.ts';
import { workersElsewhere } from './migrations/037-workers-elsewhere.ts';
import { sortedBy } from './migrations/035-sorted-by.ts';
import { newFiles } from './migrations/029-new-files.ts';
import { putAside } from './migrations/028-put-aside.ts';
import { scanTracks } from './migrations/027-scan-tracks.ts';
import { diskNeeds } from './migrations/025-disk-needs.ts';
import { waveformForm } from './migrations/024-waveform-form.ts';
import { selfFillingCrates } from './migrations/016-self-filling-crates.ts';

export const MIGRATIONS: readonly Migration[] = [
  first,
  gridFields,
  soundFields,
  gainFields,
  fileWrites,
  recipes,
  catalogue,
  namesAndTotals,
  dates,
  trackFiles,
  mergePolicies,
  presets,
  moreTagFields,
  removedRoots,
  listShape,
  selfFillingCrates,
  listMarks,
  arranging,
  uses,
  counts,
  hours,
  airings,
  duplicates,
  waveformForm,
  diskNeeds,
  watchedRoots,
  scanTracks,
  putAside,
  newFiles,
  measureAgain,
  destinations,
  takenTracks,
  sticks,
  played,
  sortedBy,
  waveformsPacked,
  workersElsewhere,
  musicCopy,
  searchLetters,
];

/**
 * Makes the steps that have not been made, each in one transaction. A database that holds something is backed up
 * before; when a step fails, it is put back as it was.
 * @param backUp answers where the dump is; null makes none (databases of tests and benchmarks)
 * @throws what the step that failed threw
 */
export async function migrate(
  database: Database,
  backUp: (() => Promise<string>) | null = null,
  migrations: readonly Migration[] = MIGRATIONS,
): Promise<void> {
  const umzug = new Umzug({
    migrations: migrations.map(({ name, up }) => ({
      name,
      up: () =>
        database.transaction(async (t) => {
          for (const statement of up) await database.run(statement, [], t);
        }),
    })),
    storage: new SequelizeStorage({ sequelize: database.sequelize, tableName: 'migrations' }),
    logger: undefined,
  });
  const pending = await umzug.pending();
  if (pending.length === 0) return;
  const holds = (await umzug.executed()).length > 0;
  const dump = holds && backUp ? await backUp() : null;
  try {
    await umzug.up();
  } catch (error) {
    if (!dump) throw error;
    await restoreDatabase(database, dump);
    log.error(error, `the database could not be brought up to date; it is as it was (${dump})`);
    throw error;
  }
}
