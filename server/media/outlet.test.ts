import { describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { openOutlet } from './outlet.ts';

/** What a program prints, as it arrives when so many bytes of each piece are used. */
async function read(script: string, used: (length: number) => number = (n) => n): Promise<Buffer> {
  const got: Buffer[] = [];
  const outlet = await openOutlet((piece) => {
    const count = Math.min(piece.length, used(piece.length));
    expect(piece.byteOffset % 8).toBe(0);
    got.push(Buffer.from(piece.subarray(0, count)));
    return count;
  });
  const child = spawn(process.execPath, ['-e', script], { stdio: ['ignore', outlet.writer, 'inherit'] });
  outlet.writer.destroy();
  await Promise.all([outlet.ended, new Promise((resolve) => child.on('close', resolve))]);
  return Buffer.concat(got);
}

describe('what a program prints', () => {
  const script =
    'const b = Buffer.alloc(3_000_001); for (let i = 0; i < b.length; i++) b[i] = (i * 7) % 251; require("fs").writeSync(1, b.subarray(0, 5)); process.stdout.write(b.subarray(5));';
  const expected = Buffer.alloc(3_000_001, 0).map((_, i) => (i * 7) % 251);
  test('arrives whole, in order', async () => {
    expect((await read(script)).equals(expected)).toBe(true);
  });
  test('what was not used comes again with what follows', async () => {
    const whole = await read(script, (length) => length - (length % 24));
    expect(whole.length).toBe(3_000_001 - (3_000_001 % 24));
    expect(whole.equals(expected.subarray(0, whole.length))).toBe(true);
  });
  test('nothing at all ends too, and no socket is left behind', async () => {
    expect((await read('')).length).toBe(0);
    expect(
      readdirSync(tmpdir()).filter((n) => n.startsWith('early-set-') && existsSync(`${tmpdir()}/${n}/sound`)),
    ).toEqual([]);
  });
});

test('trouble in the middle ends the program and is told', async () => {
  const outlet = await openOutlet(() => {
    throw new RangeError('too much');
  });
  const child = spawn(
    process.execPath,
    ['-e', 'const b = Buffer.alloc(65536); for (;;) require("fs").writeSync(1, b);'],
    { stdio: ['ignore', outlet.writer, 'ignore'] },
  );
  outlet.writer.destroy();
  const code = new Promise((resolve) => child.on('close', resolve));
  await expect(outlet.ended).rejects.toThrow('too much');
  expect(await code).not.toBe(0);
});
