/** The fit of tracks to a reference, worked out by the database for many at once. */
import {
  ENERGY_REACH,
  FIT_WEIGHTS,
  KEY_SHARES,
  TEMPO_REACH_PERCENT,
  type FitReference,
} from '@early-set/core/arrange/fit';

/**
 * The score of fitOf as an SQL expression over columns t.bpm, t.key, t.key_signature and t.energy.
 * Parameters are appended to `values`.
 */
export function fitSql(reference: FitReference & { signature: number | null }, values: unknown[]): string {
  if (!reference.bpm) return 'NULL::int';
  const p = (value: unknown, type: string): string => `$${values.push(value)}::${type}`;
  const bpm = p(reference.bpm, 'float8');
  const step = `LEAST(ABS(t.bpm / ${bpm} - 1), ABS(t.bpm * 2 / ${bpm} - 1), ABS(t.bpm * 0.5 / ${bpm} - 1)) * 100`;
  const tempo = `${FIT_WEIGHTS.tempo} * GREATEST(0, 1 - ${step} / ${TEMPO_REACH_PERCENT})`;
  const apart = reference.signature === null ? null : `ABS(t.key_signature - ${p(reference.signature, 'int')})`;
  const steps = apart && `LEAST(${apart}, 12 - ${apart})`;
  const key = steps
    ? `CASE WHEN t.key IS NULL THEN 0 WHEN t.key = ${p(reference.key, 'text')} THEN ${FIT_WEIGHTS.key}
      ELSE ${FIT_WEIGHTS.key} * (ARRAY[${KEY_SHARES.join(',')}]::float8[])[${steps} + 1] END`
    : '0';
  const energy =
    reference.energy === null
      ? '0'
      : `COALESCE(${FIT_WEIGHTS.energy} * GREATEST(0, 1 - ABS(t.energy - ${p(reference.energy, 'float8')}) / ${ENERGY_REACH}), 0)`;
  return `CASE WHEN t.bpm IS NULL THEN NULL ELSE FLOOR(${tempo} + ${key} + ${energy} + 0.5)::int END`;
}
