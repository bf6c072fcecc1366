/** Of a playout system: which of the days that it wrote down were read, each with its bytes then. */
import type { Migration } from '../migration.ts';

export const played: Migration = {
  name: '034-played',
  up: [`ALTER TABLE sticks ADD COLUMN played jsonb NOT NULL DEFAULT '{}'`],
};
