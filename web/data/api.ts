/** Talking to the server: JSON in and out, errors as sentences. */
import type { ErrorAnswer } from '@early-set/core/api/types';

/** What the server said went wrong. */
export class ApiError extends Error {
  readonly code: string;
  readonly status: number;
  constructor(status: number, code: string, message: string) {
    super(message);
    this.status = status;
    this.code = code;
  }
}

/** What is no fault for a browser to write down comes inside an answer (server/http/errors). */
const INSIDE = { 'X-Refusals': 'inside' };
const statusOf = (response: Response): number => Number(response.headers.get('X-Refused') ?? response.status);
const SIGN_IN = 401;
const isRefused = (response: Response): boolean => statusOf(response) >= 300;

async function answerOf<T>(response: Response): Promise<T> {
  if (!isRefused(response)) return (await response.json()) as T;
  // Signed out meanwhile: the page that it is now asks for the passphrase.
  if (statusOf(response) === SIGN_IN) location.reload();
  const answer = (await response.json().catch(() => null)) as ErrorAnswer | null;
  throw new ApiError(
    statusOf(response),
    answer?.error.code ?? 'failed',
    answer?.error.message ?? 'The server did not answer as expected',
  );
}

/** Runs a request; a server that cannot be reached becomes a sentence too. */
async function ask<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, { ...init, headers: { ...INSIDE, ...init?.headers } });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new ApiError(0, 'unreachable', 'Early Set is not running, or cannot be reached');
  }
  return answerOf<T>(response);
}

/** A longer address than this, in characters, is sent as a body (server/http/longQuestions). */
const MAX_ADDRESS = 6_000;

export function get<T>(path: string, signal?: AbortSignal): Promise<T> {
  const heard = signal ? { signal } : {};
  const [address = '', query = ''] = path.length > MAX_ADDRESS ? path.split(/\?(.*)/s) : [path];
  if (!query) return ask<T>(path, heard);
  const headers = { 'X-HTTP-Method-Override': 'GET', 'Content-Type': 'application/x-www-form-urlencoded' };
  return ask<T>(address, { ...heard, method: 'POST', headers, body: query });
}

const withBody =
  (method: string) =>
  <T>(path: string, body: unknown = {}, signal?: AbortSignal): Promise<T> =>
    ask<T>(path, {
      method,
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
      ...(signal ? { signal } : {}),
    });

/** Asks for a file. */
export async function askFile(path: string, body: unknown): Promise<Blob> {
  const response = await fetch(`/api${path}`, {
    method: 'POST',
    headers: { ...INSIDE, 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  return isRefused(response) ? answerOf<Blob>(response) : response.blob();
}

/** Asks for bytes that may not be there; with the headers of the answer. */
export async function askBytes(path: string): Promise<{ data: Uint8Array; headers: Headers } | null> {
  const response = await fetch(`/api${path}`, { headers: INSIDE });
  if (isRefused(response)) return null;
  return { data: new Uint8Array(await response.arrayBuffer()), headers: response.headers };
}

export const post = withBody('POST');
export const put = withBody('PUT');
export const patch = withBody('PATCH');
export const remove = withBody('DELETE');

/** Sends a picture to be kept; it is given to no track yet. */
export async function sendPicture(file: File): Promise<{ hash: string; width: number; height: number; bytes: number }> {
  const form = new FormData();
  form.append('file', file, file.name || 'pasted');
  return ask('/pictures', { method: 'POST', body: form });
}

/** Sends a file with progress from 0 to 1. */
export function upload(
  path: string,
  file: File,
  name: string,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', `/api${path}`);
    for (const [header, value] of Object.entries(INSIDE)) request.setRequestHeader(header, value);
    request.upload.onprogress = (e) => {
      if (e.lengthComputable) progress(e.loaded / e.total);
    };
    request.onload = () => {
      const status = Number(request.getResponseHeader('X-Refused') ?? request.status);
      if (status < 300) {
        resolve();
        return;
      }
      let message = 'The file did not arrive';
      try {
        message = (JSON.parse(request.responseText) as ErrorAnswer).error.message;
      } catch {
        /* keeps the plain sentence */
      }
      reject(new ApiError(status, 'upload', message));
    };
    request.onerror = () =>
      reject(new ApiError(0, 'unreachable', 'The connection broke while the file was being sent'));
    request.onabort = () => reject(new DOMException('cancelled', 'AbortError'));
    signal.addEventListener('abort', () => request.abort(), { once: true });
    const form = new FormData();
    form.append('path', name); // before the file, so that it is there when the file arrives
    form.append('file', file);
    request.send(form);
  });
}
