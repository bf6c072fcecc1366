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
const RETRY_MS = 500;

/** Did it fail because the database is not there, or is just going or coming? */
export function isAway(error: unknown): boolean {
  const thrown = error as Thrown & { original?: Thrown };
  const { code, message = '' } = thrown.original ?? thrown;
  return (
    /^Sequelize(?:Connection|HostNotReachable|HostNotFound|InvalidConnection|ConnectionAcquireTimeout)/.test(
      thrown.name ?? '',
    ) ||
    AWAY_CODES.has(code ?? '') ||
    BROKEN.test(message)
  );
}
/** May the same work well a moment later? The database was away, or two waited for each other and one was sent back. */
export function isPassing(error: unknown): boolean {
  const { original, code } = error as Thrown & { original?: Thrown };
  return isAway(error) || SENT_BACK.has(original?.code ?? code ?? '');
}
const SENT_BACK = new Set(['40P01', '40001']);
interface Thrown {
  name?: string;
  code?: string;
  message?: string;
}
/** What the driver says of a connection that broke under a query: it has no code for it. */
const BROKEN =
  /^(?:Connection terminated|Client (?:has encountered a connection error|was closed) and is not queryable)/;
const AWAY_CODES = new Set([
  '57P01',
  '57P02',
  '57P03',
  '08006',
  '08003',
  '08001',
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
]);

/**
 * A connection that may break at any moment. Sequelize listens to it a moment too late: when the database dies just as
 * a connection is made, its last words come in the same piece of data, and an error that nobody hears ends the process.
 */
class HeardClient extends pg.Client {
  constructor(config?: string | pg.ClientConfig) {
    super(config);
    this.on('error', () => undefined);
  }
}
const HEARD = Object.create(pg, { Client: { value: HeardClient } }) as typeof pg;

/** Connects. @throws when the database cannot be reached. */
export async function connect(url: string, maxConnections = 12): Promise<Database> {
  const sequelize = new Sequelize(url, {
    dialect: 'postgres',
    dialectModule: HEARD,
    logging: false,
    pool: { max: maxConnections, min: 1, idle: 60_000 },
    define: { underscored: true, timestamps: false },
  });
  try {
    await sequelize.authenticate();
  } catch (error) {
    await sequelize.close().catch(() => undefined); // nothing goes on trying
    throw error;
  }
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

/**
 * Listens to what is told on the database; connects again for as long as it takes when the connection breaks.
 * @param again called when it hears again: what was told meanwhile it has missed
 */
export async function listen(
  url: string,
  hear: (event: DatabaseEvent) => void,
  again: () => void = () => undefined,
): Promise<() => Promise<void>> {
  let stopped = false;
  let client: pg.Client | null = null;
  const open = async (): Promise<void> => {
    const next = new HeardClient({ connectionString: url });
    next.on('notification', ({ payload }) => {
      if (payload) hear(JSON.parse(payload) as DatabaseEvent);
    });
    await next.connect();
    await next.query(`LISTEN ${CHANNEL}`);
    client = next;
    next.on('end', () => void reopen());
  };
  const reopen = async (): Promise<void> => {
    while (!stopped) {
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      if (stopped) return;
      try {
        await open();
        again();
        return;
      } catch {
        /* not yet */
      }
    }
  };
  await open();
  return async () => {
    stopped = true;
    await client?.end();
  };
}
