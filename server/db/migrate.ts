/** Brings the schema up to date: plain SQL steps, kept in order by Umzug. */
import { SequelizeStorage, Umzug } from 'umzug';
import type { Database } from './database.ts';
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

const MIGRATIONS: Migration[] = [
  first,
  gridFields,
  soundFields,
  gainFields,
  fileWrites,
  recipes,
  catalogue,
  namesAndTotals,
  dates,
];

/** Makes the steps that have not been made; each in one transaction. */
export async function migrate(database: Database): Promise<void> {
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(({ name, up }) => ({
      name,
      up: () =>
        database.transaction(async (t) => {
          for (const statement of up) await database.run(statement, [], t);
        }),
    })),
    storage: new SequelizeStorage({ sequelize: database.sequelize, tableName: 'migrations' }),
    logger: undefined,
  });
  await umzug.up();
}
