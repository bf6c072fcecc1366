/** The demo's folder as a root, made on the first start with the demo. */
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';

/** Finds or makes the root of the demo music. */
export async function ensureDemoRoot(database: Database, path: string): Promise<Root> {
  const known = await Root.findOne({ where: { path } });
  if (known) return known;
  const root = await Root.create({ path, label: 'Demo music', measure: true });
  await database.notify({ kind: 'roots' });
  return root;
}
