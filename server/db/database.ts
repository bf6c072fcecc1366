/** The one connection pool, through Sequelize, and small helpers for plain SQL. */
import { QueryTypes, Sequelize, type Transaction } from 'sequelize';
import pg from 'pg';
import type { ServerEvent } from '@early-set/core/api/types';

// Counts and sizes come back as numbers, dates as ISO text like everything else in JSON.
pg.types.setTypeParser(20, Number);

export interface Database {
  sequelize: Sequelize;
  url: string;
  /** Rows of a SELECT with $1-style parameters. */
  rows<T extends object>(text: string, values?: unknown[], transaction?: Transaction): Promise<T[]>;
  /** Runs a statement with $1-style parameters. */
  run(text: string, values?: unknown[], transaction?: Transaction): Promise<void>;
  transaction<T>(work: (t: Transaction) => Promise<T>): Promise<T>;
  /** Tells all processes on this database that something happened. */
  notify(event: DatabaseEvent, transaction?: Transaction): Promise<void>;
  close(): Promise<void>;
}

/** What is told between processes; every browser hears it too. */
export type DatabaseEvent = ServerEvent;

const CHANNEL = 'early_set';

/** Connects. @throws when the database cannot be reached. */
export async function connect(url: string): Promise<Database> {
  const sequelize = new Sequelize(url, {
    dialect: 'postgres',
    logging: false,
    pool: { max: 12, min: 1, idle: 60_000 },
    define: { underscored: true, timestamps: false },
  });
  await sequelize.authenticate();
  const database: Database = {
    sequelize,
    url,
    rows: <T extends object>(text: string, values: unknown[] = [], transaction?: Transaction) =>
      sequelize.query<T>(text, { bind: values, type: QueryTypes.SELECT, ...(transaction ? { transaction } : {}) }),
    run: async (text, values = [], transaction) => {
      await sequelize.query(text, { bind: values, type: QueryTypes.RAW, ...(transaction ? { transaction } : {}) });
    },
    transaction: (work) => sequelize.transaction(work),
    notify: (event, transaction) =>
      database.run('SELECT pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)], transaction),
    close: () => sequelize.close(),
  };
  return database;
}

/** Listens to what is told on the database; reconnects when the connection breaks. Returns a function that stops. */
export async function listen(url: string, hear: (event: DatabaseEvent) => void): Promise<() => Promise<void>> {
  let stopped = false;
  let client: pg.Client | null = null;
  const open = async (): Promise<void> => {
    client = new pg.Client({ connectionString: url });
    client.on('notification', ({ payload }) => {
      if (payload) hear(JSON.parse(payload) as DatabaseEvent);
    });
    client.on('error', () => undefined);
    client.on('end', () => {
      if (!stopped) setTimeout(() => void open().catch(() => undefined), 1000).unref();
    });
    await client.connect();
    await client.query(`LISTEN ${CHANNEL}`);
  };
  await open();
  return async () => {
    stopped = true;
    await client?.end();
  };
}
