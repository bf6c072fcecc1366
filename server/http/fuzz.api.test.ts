/**
 * Requests made from the schemas of all routes, with something odd in them here and there: whatever comes is answered,
 * in one shape when it is refused, and never by a failure of the server.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Router } from 'express';
import type { Description } from 'joi';
import { join } from 'node:path';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import type { Context } from './context.ts';
import { catalogueRoutes } from './routes/catalogue.ts';
import { changeRoutes } from './routes/changes.ts';
import { cleanRoutes } from './routes/clean.ts';
import { completenessRoutes } from './routes/completeness.ts';
import { dateRoutes } from './routes/dates.ts';
import { editingRoutes } from './routes/byHand.ts';
import { fileRoutes } from './routes/files.ts';
import { intakeRoutes } from './routes/intake.ts';
import { listRoutes } from './routes/lists.ts';
import { listExportRoutes } from './routes/listExports.ts';
import { airplayRoutes } from './routes/airplay.ts';
import { diskRoutes } from './routes/disk.ts';
import { hourRoutes } from './routes/hours.ts';
import { mirrorRoutes } from './routes/mirrors.ts';
import { severalListRoutes } from './routes/severalLists.ts';
import { trackRoutes } from './routes/tracks.ts';
import type { Shapes } from './validate.ts';

const REQUESTS = Number(process.env.EARLY_SET_FUZZ_REQUESTS ?? 2500);
let h: Harness;
beforeAll(async () => {
  h = await startHarness();
  for (let i = 0; i < 3; i++) makeAudio(join(h.music, `${i}.mp3`), { seconds: 1, tags: { title: `Song ${i}` } });
  await h.takeIn(h.music, false);
});
afterAll(() => h?.stop());

interface Found {
  method: 'get' | 'post' | 'patch' | 'delete';
  path: string;
  shapes: Shapes;
}
interface Layer {
  route?: { path: string; stack: { method: Found['method']; handle: { shapes?: Shapes } }[] };
}

/** Every route that checks what it gets. */
function routes(): Found[] {
  // Only looked at for their schemas; nothing is asked of what they would work with.
  const context = { dataFolder: h.folder, changing: {}, runs: {} } as unknown as Context;
  const makers: ((c: Context) => Router)[] = [
    catalogueRoutes,
    changeRoutes,
    cleanRoutes,
    completenessRoutes,
    dateRoutes,
    editingRoutes,
    fileRoutes,
    intakeRoutes,
    listRoutes,
    severalListRoutes,
    listExportRoutes,
    mirrorRoutes,
    diskRoutes,
    hourRoutes,
    airplayRoutes,
    trackRoutes,
  ];
  return makers
    .flatMap((make) => make(context).stack as unknown as Layer[])
    .flatMap(({ route }) =>
      (route?.stack ?? []).flatMap(({ method, handle }) =>
        handle.shapes ? [{ method, path: route!.path, shapes: handle.shapes }] : [],
      ),
    );
}

let seed = 20_261_127;
const random = (n: number): number => {
  seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
  return Math.floor((seed / 2 ** 32) * n);
};
const one = <T>(of: readonly T[]): T => of[random(of.length)]!;
const often = (percent: number): boolean => random(100) < percent;

const ODD: readonly unknown[] = [
  null,
  true,
  '',
  '\u0000',
  'a\u0000b',
  '\ud83d',
  `${'x'.repeat(79)}\u{1f30a}`,
  'x'.repeat(6000),
  '../../etc/passwd',
  "'; DROP TABLE tracks; --",
  -1,
  0.5,
  2 ** 31,
  2 ** 53,
  1e308,
  -0,
  [],
  [[[[[[]]]]]],
  {},
  { toString: 1 },
  JSON.parse('{"__proto__": {"x": 1}}'),
];
const TEXTS = ['', 'Song 1', 'ä', '日本', 'rope', '22:00', '2026-12-04', '{{ title }}', '{% for %}', '(a+)+$'];

/** A value as a schema describes it, or something odd in its place. */
function valueOf(d: Description, depth = 0): unknown {
  if (often(6)) return one(ODD);
  const {
    flags = {},
    allow = [],
    rules = [],
  } = d as {
    flags?: { only?: boolean };
    allow?: unknown[];
    rules?: { name: string; args?: { limit?: number } }[];
  };
  const usable = allow.filter((v) => !(typeof v === 'object' && v !== null && 'override' in v));
  if (usable.length && (flags.only === true || often(20))) return one(usable);
  const limit = (name: string): number | undefined => rules.find((r) => r.name === name)?.args?.limit;
  switch (d.type) {
    case 'object': {
      const keys = Object.entries((d.keys ?? {}) as Record<string, Description>);
      return Object.fromEntries(
        keys
          .filter(([, k]) => (k.flags as { presence?: string } | undefined)?.presence === 'required' || often(60))
          .map(([name, k]) => [name, valueOf(k, depth + 1)]),
      );
    }
    case 'array': {
      const items = (d.items ?? []) as Description[];
      const n = Math.min(limit('length') ?? limit('min') ?? 0, 4) + random(3);
      return items.length && depth < 6 ? Array.from({ length: n }, () => valueOf(one(items), depth + 1)) : [];
    }
    case 'alternatives': {
      const all = (d.matches ?? []) as { schema?: Description }[];
      const schema = all.length ? one(all).schema : undefined;
      return schema ? valueOf(schema, depth + 1) : null;
    }
    case 'number': {
      const low = limit('min') ?? 0;
      return often(25) ? one([1, 2, 3, 2_147_483_647, low, limit('max') ?? 9]) : low + random(5);
    }
    case 'boolean':
      return often(50);
    case 'string':
      return rules.some((r) => r.name === 'guid')
        ? one(['00000000-0000-4000-8000-000000000000', 'f0000000-0000-4000-8000-00000000000f'])
        : rules.some((r) => r.name === 'custom')
          ? JSON.stringify(one([{ all: [] }, { field: 'genre', test: 'empty' }, { test: 'words', text: 'song' }, []]))
          : one(TEXTS);
    default:
      return one([null, 1, 'text', ['a'], { all: [] }, { ids: [1] }, { field: 'title', test: 'empty' }]);
  }
}

const asQuery = (query: unknown): string =>
  new URLSearchParams(
    Object.entries((query ?? {}) as Record<string, unknown>).map(([k, v]) => [
      k,
      typeof v === 'object' ? JSON.stringify(v) : String(v),
    ]),
  ).toString();

test(`${REQUESTS.toLocaleString('en-GB')} odd requests: none fails the server, each refusal has the one shape`, async () => {
  const all = routes();
  expect(all.length).toBeGreaterThan(60);
  const failures: string[] = [];
  let refused = 0;
  for (let i = 0; i < REQUESTS; i++) {
    const { method, path, shapes } = all[i % all.length]!;
    const params = (shapes.params ? valueOf(shapes.params.describe()) : {}) as Record<string, unknown> | null;
    const query = shapes.query ? valueOf(shapes.query.describe()) : {};
    const body = shapes.body ? valueOf(shapes.body.describe()) : undefined;
    const address =
      path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(wellFormed(params?.[name] ?? '1')) || '0') +
      `?${asQuery(query)}`;
    const asked = method === 'get' ? h.get(address) : method === 'delete' ? h.delete(address) : h[method](address, {});
    const answer = await (method === 'get' || body === undefined ? asked : asked.send(sendable(body)));
    if (answer.status >= 500 && answer.status !== 507)
      failures.push(`${method} ${address} ${JSON.stringify(body)?.slice(0, 300)}: ${answer.status}`);
    if (answer.status >= 400) {
      refused++;
      expect({ asked: `${method} ${address}`, status: answer.status, body: answer.body as unknown }).toEqual({
        asked: `${method} ${address}`,
        status: answer.status,
        body: { error: { code: expect.any(String), message: expect.any(String) } },
      });
    }
  }
  expect(failures.slice(0, 12)).toEqual([]);
  // The schemas are met often enough that what lies behind them is reached.
  expect(refused).toBeLessThan(REQUESTS * 0.9);
  await h.get('/overview').expect(200);
}, 900_000);

const wellFormed = (value: unknown): string =>
  (typeof value === 'object' ? JSON.stringify(value) : String(value)).toWellFormed();
/** Only objects and arrays are JSON that bodies are read as. */
const sendable = (body: unknown): object => (typeof body === 'object' && body !== null ? body : { value: body });
