import { expect, test } from '@jest/globals';
import { mkdtempSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { joinFileIn, joinUrl, readJoinFile, writeJoinFile, type JoinFile } from './joinFile.ts';
import { pathHere, readMap } from './rootsHere.ts';

const FILE: JoinFile = {
  address: '192.168.7.20',
  port: 5433,
  database: 'postgres',
  password: 'p@ss:w/rd',
  certificate: '-----BEGIN CERTIFICATE-----\nMIIB\n-----END CERTIFICATE-----\n',
};
const folder = mkdtempSync(join(tmpdir(), 'early-set-join-'));

test('what is written is read, and is for nobody else', () => {
  writeJoinFile(folder, FILE);
  expect(readJoinFile(joinFileIn(folder))).toEqual(FILE);
  expect(statSync(joinFileIn(folder)).mode & 0o077).toBe(0);
});

test('what is no such file is said, with its name', () => {
  expect(() => readJoinFile(join(folder, 'none.json'))).toThrow(/none\.json is no file to join with/);
  for (const [name, text] of [
    ['half.json', '{"address": "192.168.7.20"'],
    ['other.json', '{"tracks": []}'],
    ['name.json', JSON.stringify({ ...FILE, address: 'music.lan; rm' })],
    ['no-cert.json', JSON.stringify({ ...FILE, certificate: '' })],
  ] as const) {
    writeFileSync(join(folder, name), text);
    expect(() => readJoinFile(join(folder, name))).toThrow(new RegExp(`${name} is no file to join with`));
  }
});

test('it is reached by TLS, known by its certificate, also through a tunnel', () => {
  const url = new URL(joinUrl(FILE, '/home/me/a b/database.crt', null));
  expect(url.host).toBe('192.168.7.20:5433');
  expect(decodeURIComponent(url.password)).toBe(FILE.password);
  expect(Object.fromEntries(url.searchParams)).toEqual({
    sslmode: 'verify-ca',
    uselibpqcompat: 'true',
    sslrootcert: '/home/me/a b/database.crt',
  });
  expect(new URL(joinUrl(FILE, '/c', '127.0.0.1:6000')).host).toBe('127.0.0.1:6000');
  expect(new URL(joinUrl({ ...FILE, address: 'fd00::1' }, '/c', null)).host).toBe('[fd00::1]:5433');
});

test('a map says where a folder lies here; the nearest one counts', () => {
  const maps = ['/srv/music/=/mnt/nas', '/srv/music/archive=/media/big drive'].map(readMap);
  expect(pathHere('/srv/music', maps)).toBe('/mnt/nas');
  expect(pathHere('/srv/music/crates', maps)).toBe('/mnt/nas/crates');
  expect(pathHere('/srv/music/archive/1999', maps)).toBe('/media/big drive/1999');
  expect(pathHere('/srv/musical', maps)).toBe('/srv/musical');
  expect(pathHere('/srv/x', [readMap('/=/host')])).toBe('/host/srv/x');
  for (const text of ['/srv/music', 'srv=/mnt', '/srv=mnt', ''])
    expect(() => readMap(text)).toThrow(/takes two folders/);
});
