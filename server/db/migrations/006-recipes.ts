/** Saved recipes. */
import type { Migration } from '../migration.ts';

export const recipes: Migration = {
  name: '006-recipes',
  up: [
    'CREATE TABLE recipes (id serial PRIMARY KEY, name text NOT NULL, steps jsonb NOT NULL, updated_at timestamptz NOT NULL DEFAULT now())',
  ],
};
