/** What the bytes of a stored waveform mean (`core/analysis/waveform`). */
import type { Migration } from '../migration.ts';

export const waveformForm: Migration = {
  name: '024-waveform-form',
  up: ['ALTER TABLE analyses ADD COLUMN waveform_form smallint NOT NULL DEFAULT 1'],
};
