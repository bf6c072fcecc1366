import { jest } from './lib/jest.mjs';
import { startPostgres } from './lib/postgres.mjs';
const database = await startPostgres('/tmp/one-data', { fsync: false });
try {
  await jest('/tmp/one.json', database.url, [...process.argv.slice(2), '--forceExit']);
} finally {
  database.stop();
}
process.exit(0);
