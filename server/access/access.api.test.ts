/** A server that listens for others: what a stranger reaches, signing in, sessions and their end. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { get as ask, type IncomingMessage } from 'node:http';
import { join } from 'node:path';
import request from 'supertest';
import type { AccessAnswer } from '@early-set/core/api/access';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { openAccess } from './access.ts';
import { readListen } from './listen.ts';
import { keepPassphrase } from './passphrase.ts';

const PHRASE = 'kelp tide harbour lamp';
const listen = readListen({ listen: '127.0.0.1', host: ['desk.lan'], withoutTls: true });
let h: Harness, web: string;
beforeAll(async () => {
  h = await startHarness({
    async access(dataFolder) {
      await keepPassphrase(dataFolder, PHRASE);
      return openAccess(dataFolder, listen);
    },
    webFolder(folder) {
      web = join(folder, 'web');
      mkdirSync(join(web, 'assets'), { recursive: true });
      writeFileSync(join(web, 'index.html'), '<title>the application</title>');
      writeFileSync(join(web, 'assets/app.js'), 'application()');
      return web;
    },
  });
  makeAudio(join(h.music, 'one.mp3'));
});
afterAll(() => h.stop());

const origin = (): string => `http://127.0.0.1:${h.server.port}`;
const to = (method: string, path: string): request.Test =>
  request(origin())[method as 'get'](path).set('Origin', origin());
const signIn = (passphrase: string): request.Test => to('post', '/sign-in').type('form').send({ passphrase });
const cookieOf = (answer: request.Response): string => String(answer.headers['set-cookie']).split(';')[0]!;
const signedIn = async (): Promise<string> => cookieOf(await signIn(PHRASE).expect(303));

/** All routes, as their modules declare them. */
const ROUTES = readdirSync(join(import.meta.dirname, '../http/routes'))
  .filter((name) => !name.endsWith('.test.ts'))
  .flatMap((name) => {
    const text = readFileSync(join(import.meta.dirname, '../http/routes', name), 'utf8');
    return [...text.matchAll(/router\.(get|post|put|patch|delete)\(\s*'([^']+)'/g)].map(
      ([, method, path]): [string, string] => [method!, `/api${path!.replaceAll(/:\w+/g, '1')}`],
    );
  });

describe('a stranger', () => {
  test('there are as many routes as there should be', () => {
    expect(ROUTES.length).toBeGreaterThan(150);
    expect(ROUTES).toContainEqual(['get', '/api/tracks/1/audio']);
  });

  test.each(ROUTES)('%s %s: nothing', async (method, path) => {
    for (const cookie of ['', 'early-set-session=forged']) {
      const answer = await to(method, path).set('Cookie', cookie);
      expect([answer.status, answer.body]).toEqual([401, { error: { code: 'sign-in', message: 'Sign in first' } }]);
    }
  });

  test('nor the events, an upload, or what is no route', async () => {
    for (const path of ['/api/events', '/api', '/api/', '/api/nothing/at/all', '/API/overview'])
      expect([path, (await to('get', path)).status]).toEqual([path, 401]);
    const file = Buffer.from('not music');
    expect((await to('post', '/api/uploads').attach('files', file, 'x.mp3')).status).toBe(401);
    const pretended = to('post', '/api/tracks').set('X-HTTP-Method-Override', 'GET').send('limit=1');
    expect((await pretended).status).toBe(401);
  });

  test('of the page only where to sign in, which runs nothing', async () => {
    for (const path of ['/', '/tracks', '/index.html', '/assets/app.js', '/assets/../index.html', '/sign-in']) {
      const { status, text, headers } = await to('get', path);
      expect([path, status]).toEqual([path, 401]);
      expect(text).toContain('<input id="passphrase"');
      expect(text).not.toContain('application');
      expect(headers['content-security-policy']).not.toContain('script-src');
    }
  });

  test('under another name, or from another page, not even that', async () => {
    expect((await to('get', '/').set('Host', 'evil.example')).status).toBe(403);
    expect((await to('get', '/').set('Host', 'desk.lan')).status).toBe(401);
    expect((await signIn(PHRASE).set('Origin', 'http://evil.example')).status).toBe(403);
    expect((await request(origin()).post('/sign-in').type('form').send({ passphrase: PHRASE })).status).toBe(403);
  });
});

test('signed in, the application is there; the cookie is kept from scripts and from other pages', async () => {
  const answer = await signIn(PHRASE).expect(303);
  expect(answer.headers.location).toBe('/');
  const said = String(answer.headers['set-cookie']);
  expect(said).toMatch(/^early-set-session=[\w-]{43};/);
  for (const part of ['HttpOnly', 'SameSite=Strict', 'Path=/']) expect(said).toContain(part);
  expect(said).not.toContain('Secure'); // without TLS it would never come back
  const cookie = cookieOf(answer);
  expect((await to('get', '/').set('Cookie', cookie).expect(200)).text).toContain('the application');
  await to('get', '/api/overview').set('Cookie', cookie).expect(200);
  // Another page cannot use it.
  await to('post', '/api/undo').set('Cookie', cookie).set('Origin', 'http://evil.example').expect(403);
  await to('post', '/api/undo').set('Cookie', cookie).set('Sec-Fetch-Site', 'cross-site').expect(403);
  await request(origin()).post('/api/undo').set('Cookie', cookie).expect(403);
});

test('one comes to the page that was wanted, and to no other', async () => {
  expect((await to('get', '/tracks?find=a&sort=bpm')).text).toContain('value="/tracks?find=a&amp;sort=bpm"');
  for (const [then, location] of [
    ['/tracks?find=a', '/tracks?find=a'],
    ['//evil.example', '/'],
    ['/\\evil.example', '/'],
    ['https://evil.example', '/'],
    ['/"><script>', '/'],
  ])
    expect((await signIn(PHRASE).send({ then })).headers.location).toBe(location);
  expect((await to('get', '/%22%3E%3Cscript%3E')).text).not.toContain('<script>');
});

test('what is kept of passphrase and sessions is nobody else’s to read, and says neither', async () => {
  const cookie = await signedIn();
  const folder = join(h.folder, 'data/access');
  for (const name of ['passphrase.json', 'sessions.json']) {
    expect(statSync(join(folder, name)).mode & 0o077).toBe(0);
    const text = readFileSync(join(folder, name), 'utf8');
    expect(text).not.toContain(PHRASE);
    expect(text).not.toContain(cookie.split('=')[1]!);
  }
});

test('sessions are listed and ended; what is on its way to one ends with it; after signing out it is over', async () => {
  const [first, second] = [await signedIn(), await signedIn()];
  const list = async (cookie: string): Promise<AccessAnswer> =>
    (await to('get', '/api/access').set('Cookie', cookie).expect(200)).body as AccessAnswer;
  const mine = (await list(second)).sessions.find((s) => s.current)!;
  expect(await list(first)).toMatchObject({ listening: true });
  const events = await new Promise<IncomingMessage>((resolve) =>
    ask(`${origin()}/api/events`, { headers: { Cookie: second } }, resolve),
  );
  expect(events.statusCode).toBe(200);
  const closed = new Promise<void>((resolve) => {
    events.on('error', () => undefined);
    events.on('close', resolve);
    events.resume();
  });
  await to('delete', `/api/access/${mine.id}`).set('Cookie', first).expect(200);
  await closed;
  await to('get', '/api/overview').set('Cookie', second).expect(401);
  await to('delete', `/api/access/${mine.id}`).set('Cookie', first).expect(404);
  await to('post', '/api/sign-out').set('Cookie', first).expect(200);
  await h.until(async () => (await to('get', '/api/overview').set('Cookie', first)).status === 401, 'it is signed out');
});

test('a session outlives a restart, but not another passphrase', async () => {
  const cookie = await signedIn();
  await h.restart();
  await to('get', '/api/overview').set('Cookie', cookie).expect(401); // the harness sets the passphrase anew: another salt
  const again = await signedIn();
  const kept = await openAccess(join(h.folder, 'data'), listen);
  expect(kept.sessions.find(again.split('=')[1]!)).not.toBeNull();
});

test('wrong passphrases are slowed down; who waits gets in', async () => {
  for (let n = 0; n < 3; n++) {
    const { status, text } = await signIn('something else');
    expect(status).toBe(401);
    expect(text).toContain('That is not the passphrase.');
  }
  // On a slow computer the first second is over before the next one is asked; each wrong one doubles it.
  let answer = await signIn(PHRASE + '?');
  while (answer.status === 401) answer = await signIn(PHRASE + '?');
  expect([answer.status, answer.headers['retry-after']]).toEqual([429, expect.stringMatching(/^\d+$/)]);
  expect(answer.text).toMatch(/Try again in (a second|\d+ seconds)\./);
  await h.until(async () => (await signIn(PHRASE)).status === 303, 'it is tried again');
  expect((await signIn('')).status).toBe(400);
});
