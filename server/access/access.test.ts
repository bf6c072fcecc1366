import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openAccess } from './access.ts';
import { createAttempts } from './attempts.ts';
import { nameInHost, readListen } from './listen.ts';
import {
  hashPassphrase,
  isPassphrase,
  keepPassphrase,
  keptPassphrase,
  forgetPassphrase,
  whyNot,
} from './passphrase.ts';
import { IDLE_MS, openSessions } from './sessions.ts';

const inFolder = async (work: (folder: string) => Promise<void>): Promise<void> => {
  const folder = mkdtempSync(join(tmpdir(), 'early-set-access-'));
  try {
    await work(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
};

describe('the passphrase', () => {
  test('only itself is right, however its letters are composed; short ones are refused', async () => {
    const kept = await hashPassphrase('caf\u00e9 by the harbour');
    expect(await isPassphrase('cafe\u0301 by the harbour', kept)).toBe(true);
    expect(await isPassphrase('cafe by the harbour', kept)).toBe(false);
    expect(whyNot('short')).toContain('at least 12');
    expect(whyNot('long enough, it is')).toBeNull();
  });

  test('is kept, replaced and removed; without one nobody listens', () =>
    inFolder(async (folder) => {
      const listen = readListen({ listen: '127.0.0.1', withoutTls: true });
      await expect(openAccess(folder, listen)).rejects.toThrow('npm run passphrase');
      await keepPassphrase(folder, 'the first of them');
      await keepPassphrase(folder, 'the second of them');
      expect(await isPassphrase('the second of them', (await keptPassphrase(folder))!)).toBe(true);
      await forgetPassphrase(folder);
      expect(await keptPassphrase(folder)).toBeNull();
    }));
});

describe('attempts', () => {
  test('three are free, then each waits twice as long, up to five minutes; being right clears it', () => {
    const attempts = createAttempts();
    let now = 1_000_000;
    const waited: number[] = [];
    for (let n = 0; n < 14; n++) {
      const wait = attempts.begin('a', now);
      waited.push(wait);
      if (wait === 0) continue;
      now += wait * 1000;
      expect(attempts.begin('a', now)).toBe(0);
    }
    expect(waited).toEqual([0, 0, 0, 1, 2, 4, 8, 16, 32, 64, 128, 256, 300, 300]);
    expect(attempts.begin('b', now)).toBe(0);
    attempts.right('a');
    expect(attempts.begin('a', now)).toBe(0);
  });

  test('within an hour nobody gets more than a few hundred tries, from however many addresses', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(400), fc.nat(30)), { minLength: 50, maxLength: 3000 }), (tries) => {
        const attempts = createAttempts();
        let now = 0,
          tried = 0;
        for (const [who, seconds] of tries) {
          now += seconds * 1000;
          if (now > 3_600_000) break;
          if (attempts.begin(String(who), now) === 0) tried++;
        }
        expect(tried).toBeLessThanOrEqual(100 + 360);
      }),
      { numRuns: 30 },
    );
  });
});

describe('sessions', () => {
  test('are known by their cookie until they were not seen for a month', () =>
    inFolder(async (folder) => {
      const sessions = await openSessions(folder, 'salt');
      const cookie = await sessions.begin({ address: '10.0.0.4', browser: 'x'.repeat(900) });
      const found = sessions.find(cookie)!;
      expect(found).toMatchObject({ address: '10.0.0.4', browser: 'x'.repeat(300) });
      expect(sessions.find(`${cookie}x`)).toBeNull();
      expect((await openSessions(folder, 'salt')).find(cookie)).toMatchObject({ id: found.id });
      expect((await openSessions(folder, 'another')).find(cookie)).toBeNull();
      expect(sessions.find(cookie, new Date(Date.now() + IDLE_MS + 1000))).toBeNull();
      expect(sessions.all()).toEqual([]);
    }));

  test('a file of them that cannot be read is none: everybody signs in again', () =>
    inFolder(async (folder) => {
      const sessions = await openSessions(folder, 'salt');
      const cookie = await sessions.begin({ address: '', browser: '' });
      writeFileSync(join(folder, 'access/sessions.json'), '[{');
      expect((await openSessions(folder, 'salt')).find(cookie)).toBeNull();
    }));
});

describe('where it listens', () => {
  const plain = { withoutTls: true };
  test.each([
    ['192.168.1.20', '192.168.1.20', null],
    ['192.168.1.20:9000', '192.168.1.20', 9000],
    ['[fd00::7]:9000', 'fd00::7', 9000],
    ['fd00::7', 'fd00::7', null],
  ])('%s', (listen, address, port) => {
    expect(readListen({ listen, ...plain })).toMatchObject({ address, port, tls: null, proxied: false });
  });
  test.each([
    [{ listen: 'music.lan', ...plain }, 'an address of this computer'],
    [{ listen: '10.0.0.1:0', ...plain }, 'There is no port 0'],
    [{ listen: '0.0.0.0', ...plain }, '--host'],
    [{ listen: '10.0.0.1', host: ['music.lan:80'], ...plain }, 'a name without a port'],
    [{ listen: '10.0.0.1' }, 'needs TLS'],
    [{ listen: '10.0.0.1', tlsCert: '/x' }, 'both --tls-cert and --tls-key'],
    [{ listen: '127.0.0.1', host: ['a.lan'], behindProxy: true, ...plain }, 'only one of them'],
    [{ listen: '10.0.0.1', host: ['a.lan'], behindProxy: true }, 'it listens at 127.0.0.1'],
    [{ listen: '127.0.0.1', behindProxy: true }, '--host says'],
    [{ listen: '10.0.0.1', tlsCert: '/nowhere', tlsKey: '/nowhere' }, 'The certificate cannot be read'],
  ])('%j is refused in words', (given, words) => {
    expect(() => readListen(given)).toThrow(words);
  });
  test('the names under which it is asked', () => {
    expect(readListen({ listen: '::1', host: ['Music.LAN'], behindProxy: true })).toMatchObject({
      ...{ hosts: ['music.lan', '::1', '127.0.0.1', 'localhost'], proxied: true },
    });
    expect(['Music.lan:8980', '[::1]:80', '10.0.0.1', 'a:b:c', ''].map(nameInHost)).toEqual([
      ...['music.lan', '::1', '10.0.0.1', '', ''],
    ]);
  });
});
