import { join } from 'node:path';
import { ensureDebianPackages, ensureNpmPackages } from './packages.mjs';
import { ROOT } from './run.mjs';

/** The data folder: of the project, unless EARLY_SET_DATA names another. */
export const dataFolder = () => process.env.EARLY_SET_DATA ?? join(ROOT, 'data');

/**
 * Brings in everything that is missing. Takes no time when all is there.
 * @param database false: the database runs on another computer
 */
export async function setup({ tests = false, bench = false, database = true } = {}) {
  await ensureDebianPackages({ tests, bench, database });
  await ensureNpmPackages();
}
