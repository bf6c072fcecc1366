/** What becomes of values that are there has one set of words: kept, kept unless empty, replaced. */
import type { Migration } from '../migration.ts';

export const mergePolicies: Migration = {
  name: '011-merge-policies',
  up: [
    `UPDATE settings SET value = jsonb_set(value, '{changedFiles}', '"replace"') WHERE value->>'changedFiles' = 'theirs'`,
    `UPDATE recipes SET steps = (
       SELECT jsonb_agg(CASE s->'options'->>'over'
         WHEN 'gaps' THEN jsonb_set(s, '{options,over}', '"fill gaps"')
         WHEN 'all' THEN jsonb_set(s, '{options,over}', '"replace"')
         ELSE s END ORDER BY n)
       FROM jsonb_array_elements(steps) WITH ORDINALITY AS steps(s, n))
     WHERE jsonb_array_length(steps) > 0`,
  ],
};
