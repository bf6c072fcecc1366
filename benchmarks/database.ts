import pg from 'pg';

let made = 0;

/** A database of its own on the bench's cluster, and how to drop it. */
export async function freshDatabase(): Promise<{ url: string; drop: () => Promise<void> }> {
  const cluster = process.env.BENCH_DATABASE_URL!;
  const name = `bench_${process.pid}_${++made}`;
  const run = async (sql: string): Promise<void> => {
    const client = new pg.Client({ connectionString: cluster });
    await client.connect();
    await client.query(sql);
    await client.end();
  };
  await run(`CREATE DATABASE ${name}`);
  return { url: cluster.replace(/\/[^/]*$/, `/${name}`), drop: () => run(`DROP DATABASE ${name} WITH (FORCE)`) };
}
