/** Steps saved under a name are presets. */
import type { Migration } from '../migration.ts';

export const presets: Migration = {
  name: '012-presets',
  up: [
    'ALTER TABLE recipes RENAME TO presets',
    'ALTER SEQUENCE recipes_id_seq RENAME TO presets_id_seq',
    'ALTER INDEX recipes_pkey RENAME TO presets_pkey',
  ],
};
