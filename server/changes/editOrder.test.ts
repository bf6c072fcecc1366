import { expect, test } from '@jest/globals';
import { oneAfterAnother } from './editOrder.ts';

test('pieces run one after the other in the order of asking, whatever each takes, and answer each for itself', async () => {
  const inTurn = oneAfterAnother();
  const seen: string[] = [];
  const open: (() => void)[] = [];
  const piece = (name: string) => () =>
    new Promise<string>((done) => {
      seen.push(`${name} begins`);
      open.push(() => {
        seen.push(`${name} ends`);
        done(name);
      });
    });
  const both = [inTurn(piece('first')), inTurn(piece('second'))];
  await Promise.resolve();
  expect(seen).toEqual(['first begins']);
  open[0]!();
  await both[0];
  await Promise.resolve();
  expect(seen).toEqual(['first begins', 'first ends', 'second begins']);
  open[1]!();
  expect(await Promise.all(both)).toEqual(['first', 'second']);
});

test('one that fails says so to who asked, and the next goes on', async () => {
  const inTurn = oneAfterAnother();
  const failing = inTurn(() => Promise.reject(new Error('no')));
  const next = inTurn(() => Promise.resolve('done'));
  await expect(failing).rejects.toThrow('no');
  expect(await next).toBe('done');
});
