import { afterEach, expect, jest, test } from '@jest/globals';
import { get } from './api.ts';

const asked: { address: string; init: RequestInit }[] = [];
const answer = { ok: true };
globalThis.fetch = jest.fn((address: string, init: RequestInit = {}) => {
  asked.push({ address, init });
  return Promise.resolve({ status: 200, headers: new Headers(), json: () => Promise.resolve(answer) });
}) as unknown as typeof fetch;
afterEach(() => {
  asked.splice(0);
});

test('short questions stand in the address; long ones are sent, and said to be questions', async () => {
  expect(await get('/tracks?limit=2')).toBe(answer);
  expect(asked[0]).toMatchObject({ address: '/api/tracks?limit=2' });
  expect(asked[0]!.init.method).toBeUndefined();

  const query = `limit=2&where=${encodeURIComponent(JSON.stringify({ text: 'Öl? '.repeat(2_000) }))}`;
  const { signal } = new AbortController();
  expect(await get(`/tracks?${query}`, signal)).toBe(answer);
  expect(asked[1]).toMatchObject({
    address: '/api/tracks',
    init: { method: 'POST', body: query, signal, headers: { 'X-HTTP-Method-Override': 'GET' } },
  });
});
