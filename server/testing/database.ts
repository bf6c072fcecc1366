/** A database for tests, on the cluster of the tests. */
import { randomUUID } from 'node:crypto';
import pg from 'pg';

const CLUSTER = process.env.EARLY_SET_TEST_DATABASE_URL;

/** As the application makes it at its first start. */
const TEMPLATE = process.env.EARLY_SET_TEST_TEMPLATE;

/**
 * Makes it; `drop` takes it away, once nobody is connected any more.
 * @param empty nothing at all stands in it
 */
export async function testDatabase({ empty = false } = {}): Promise<{ url: string; drop: () => Promise<void> }> {
  if (!CLUSTER) throw new Error('EARLY_SET_TEST_DATABASE_URL is not set; run the tests with npm test');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const admin = new pg.Client({ connectionString: CLUSTER });
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name}${empty || !TEMPLATE ? '' : ` TEMPLATE ${TEMPLATE}`}`);
  return {
    url: CLUSTER.replace(/\/[^/]*$/, `/${name}`),
    async drop() {
      // Connections that have said goodbye may need a moment to be gone; cutting them off would be heard as an error.
      for (let tries = 0; ; tries++) {
        const gone = await admin.query(`DROP DATABASE ${name}`).then(
          () => true,
          () => false,
        );
        if (gone || tries === 60) break;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
      await admin.end();
    },
  };
}
