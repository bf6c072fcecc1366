/** Waveforms are packed by LZ4 from now on: several times as fast as PostgreSQL's own way, and hardly larger. */
import type { Migration } from '../migration.ts';

export const waveformsPacked: Migration = {
  name: '036-waveforms-packed',
  // A server that was built without it goes on as before.
  up: [
    `DO ' BEGIN
      ALTER TABLE analyses ALTER COLUMN waveform SET COMPRESSION lz4, ALTER COLUMN result SET COMPRESSION lz4;
      EXCEPTION WHEN feature_not_supported THEN NULL;
    END '`,
  ],
};
