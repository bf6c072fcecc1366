/** A server for tests of the page: answers by address, and remembers what was sent. */
import { jest } from '@jest/globals';
import { render } from '@testing-library/react';
import { Tooltip } from 'radix-ui';
import type { ServerEvent } from '@early-set/core/api/types';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { SWRConfig } from 'swr';
import { AllKeys } from '../commands/commands.ts';
import { forgetAsked } from '../data/asked.ts';

type Answer = unknown | ((body: unknown, address: URL) => unknown);
export interface Sent {
  path: string;
  body: unknown;
}

/** Stands for what a request is answered with when it fails. */
export class Refusal {
  readonly status: number;
  readonly code: string;
  readonly message: string;
  constructor(status: number, code: string, message: string) {
    this.status = status;
    this.code = code;
    this.message = message;
  }
}

/** Waits for an answer as long as it is wanted. */
const untilLeft = (answer: unknown, signal: AbortSignal | null | undefined): Promise<unknown> =>
  Promise.race([
    answer,
    new Promise((_, reject) =>
      signal?.addEventListener('abort', () => reject(new DOMException('left', 'AbortError')), { once: true }),
    ),
  ]);

/** Answers addresses below /api; the first whose beginning fits counts. Others are not found. */
export function serve(answers: Record<string, Answer>): { sent: Sent[] } {
  const sent: Sent[] = [];
  globalThis.fetch = jest.fn(async (input: unknown, init?: RequestInit) => {
    const address = new URL(String(input), 'http://page'),
      path = address.pathname.replace(/^\/api/, '');
    const body: unknown = init?.body === undefined || init.body === null ? undefined : JSON.parse(String(init.body));
    if (body !== undefined) sent.push({ path, body });
    const found = Object.entries(answers).find(([start]) => path === start || path.startsWith(`${start}/`));
    const answer = !found
      ? new Refusal(404, 'not-found', 'Not here')
      : typeof found[1] === 'function'
        ? (found[1] as (b: unknown, a: URL) => unknown)(body, address)
        : found[1];
    const refused = answer instanceof Refusal;
    return {
      ok: true,
      status: 200,
      headers: new Headers(refused ? { 'X-Refused': String(answer.status) } : {}),
      json: async () =>
        refused ? { error: { code: answer.code, message: answer.message } } : untilLeft(answer, init?.signal),
      arrayBuffer: async () => new ArrayBuffer(0),
    } as unknown as Response;
  }) as unknown as typeof fetch;
  return { sent };
}

/** Shows a view at an address, with nothing remembered from other tests. */
export function show(view: ReactNode, at = '/') {
  forgetAsked();
  return render(
    <SWRConfig value={{ provider: () => new Map(), dedupingInterval: 0 }}>
      <Tooltip.Provider>
        <AllKeys />
        <MemoryRouter initialEntries={[at]}>{view}</MemoryRouter>
      </Tooltip.Provider>
    </SWRConfig>,
  );
}

/** Tells the page what the server would. */
export const tell = (event: ServerEvent): void => {
  document.dispatchEvent(new CustomEvent('server-change', { detail: JSON.stringify(event) }));
};
