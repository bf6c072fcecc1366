/** A connection that breaks under a query, and under a transaction, is told as "the database is not there". */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { connect as toServer, createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { connect, isAway, type Database } from './database.ts';

/** What stands between: hands everything on until it is cut. */
const open = new Set<Socket>();
let between: Server;
let database: Database;
/** Called when a query that holds the word passes. */
let passes: { word: string; heard: () => void } | null = null;

beforeAll(async () => {
  const url = new URL(process.env.EARLY_SET_TEST_DATABASE_URL!);
  const port = Number(url.port);
  between = createServer((here) => {
    const there = toServer(port, '127.0.0.1');
    for (const socket of [here, there]) {
      open.add(socket);
      socket.on('error', () => undefined);
      socket.on('close', () => open.delete(socket));
    }
    here.on('data', (data) => {
      there.write(data);
      if (passes && data.includes(passes.word)) passes.heard();
    });
    there.on('data', (data) => here.write(data));
  });
  await new Promise<void>((resolve) => between.listen(0, '127.0.0.1', resolve));
  url.port = String((between.address() as AddressInfo).port);
  database = await connect(url.href);
});
afterAll(async () => {
  await database?.close();
  for (const socket of open) socket.destroy();
  between?.close();
});

const cut = () => open.forEach((socket) => socket.end());
const passed = (word: string) => new Promise<void>((heard) => (passes = { word, heard }));
const errorOf = (work: Promise<unknown>) =>
  work.then(
    () => null,
    (error: unknown) => error,
  );

/** The pool may hand out the broken connection once more before it hears of the end. */
async function thereAgain(): Promise<void> {
  for (;;) {
    const error = await errorOf(database.rows('SELECT 1'));
    if (error === null) return;
    expect(isAway(error)).toBe(true);
  }
}

test('under a query', async () => {
  const asked = passed('pg_sleep(61)');
  const error = errorOf(database.rows('SELECT pg_sleep(61)'));
  await asked;
  cut();
  expect(String(await error)).toContain('Connection terminated unexpectedly');
  expect(isAway(await error)).toBe(true);
  await thereAgain();
});

test('under a transaction: its next query finds a connection that is none', async () => {
  const asked = passed('pg_sleep(62)');
  const errors: unknown[] = [];
  const all = errorOf(
    database.transaction(async (transaction) => {
      errors.push(await errorOf(database.rows('SELECT pg_sleep(62)', [], transaction)));
      await database.rows('SELECT 2', [], transaction);
    }),
  );
  await asked;
  cut();
  errors.push(await all);
  expect(errors.map(isAway)).toEqual([true, true]);
  await thereAgain();
});

test('a fault of the query itself is none of these', async () => {
  expect(isAway(await errorOf(database.rows('SELECT nothing_of_the_kind')))).toBe(false);
});
