/** Where the services are that are asked over HTTP, for all processes on the database. */
import type { Database } from './database.ts';

export type Service = 'catalogue' | 'pool';

/** Its address; null when there is none. */
export async function serviceAddress(database: Database, service: Service): Promise<string | null> {
  const [row] = await database.rows<{ value: string | null }>(
    "SELECT value #>> '{}' AS value FROM settings WHERE name = $1",
    [service],
  );
  return row?.value ?? null;
}

export const setServiceAddress = (database: Database, service: Service, address: string | null): Promise<void> =>
  database.run(
    `INSERT INTO settings (name, value) VALUES ($1, $2::jsonb) ON CONFLICT (name) DO UPDATE
      SET value = excluded.value`,
    [service, JSON.stringify(address)],
  );
