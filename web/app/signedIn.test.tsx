import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { AccessAnswer } from '@early-set/core/api/access';
import { serve, show } from '../testing/server.tsx';
import { browserName, SignedIn } from './SignedIn.tsx';

afterEach(cleanup);
const session = { at: '2026-11-30T09:00:00Z', seen: '2026-11-30T10:00:00Z', address: '10.0.0.4', browser: '' };

test('others are signed out one by one; this one is told apart', async () => {
  let answer: AccessAnswer = {
    listening: true,
    sessions: [
      { ...session, id: 'a1', browser: 'Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0', current: true },
      { ...session, id: 'b2', browser: 'Mozilla/5.0 (Linux; Android 16) Chrome/142.0', current: false },
    ],
  };
  const { sent } = serve({
    '/access/b2': () => {
      answer = { ...answer, sessions: answer.sessions.slice(0, 1) };
      return { ended: true };
    },
    '/access': () => answer,
  });
  show(<SignedIn />);
  expect((await screen.findByText('Firefox on Linux')).textContent).toContain('(this one)');
  fireEvent.click(screen.getByRole('button', { name: 'Sign out Chrome on Android, 10.0.0.4' }));
  await waitFor(() => expect(screen.getAllByRole('listitem')).toHaveLength(1));
  expect(sent.map((s) => s.path)).toEqual(['/access/b2']);
});

test('nothing is shown where only this computer reaches it', async () => {
  let asked = false;
  serve({
    '/access': () => {
      asked = true;
      return { listening: false, sessions: [] };
    },
  });
  show(<SignedIn />);
  await waitFor(() => expect(asked).toBe(true));
  expect(screen.queryByRole('list')).toBeNull();
});

test.each([
  ['Mozilla/5.0 (Windows NT 10.0) Chrome/142.0 Safari/537.36 Edg/142.0', 'Edge on Windows'],
  ['Mozilla/5.0 (iPhone; CPU iPhone OS 19_0 like Mac OS X) Safari/604.1', 'Safari on iPhone'],
  ['curl/8.5', 'A browser'],
])('%s', (said, name) => {
  expect(browserName(said)).toBe(name);
});
