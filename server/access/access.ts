/**
 * Everything between a network and the application: nobody gets past it who has not signed in. Without it the server
 * answers this computer only.
 */
import express, { type Request, type RequestHandler, type Response } from 'express';
import { Problem } from '../base/problem.ts';
import { fromItself } from './guard.ts';
import { createAttempts } from './attempts.ts';
import { nameInHost, type Listen } from './listen.ts';
import { isPassphrase, keptPassphrase } from './passphrase.ts';
import { openSessions, type Session, type Sessions } from './sessions.ts';
import { pageAfter, signInPage } from './signInPage.ts';

export interface Access {
  listen: Listen;
  sessions: Sessions;
  /** Comes before all else. */
  guard: RequestHandler;
  /** Signed in as. */
  sessionOf: (request: Request) => Session | null;
  signOut: (request: Request, response: Response) => Promise<void>;
}

const COOKIE = 'early-set-session';
const DAYS_MS = 30 * 24 * 3_600_000;
/** More than this are not hashed at once: each takes time and room. */
const MOST_AT_ONCE = 4;

/** @throws Problem when no passphrase has been set */
export async function openAccess(dataFolder: string, listen: Listen): Promise<Access> {
  const kept = await keptPassphrase(dataFolder);
  if (!kept) throw new Problem(409, 'no-passphrase', 'Set a passphrase first: npm run passphrase');
  const sessions = await openSessions(dataFolder, kept.salt);
  const attempts = createAttempts();
  let trying = 0;
  const secure = listen.tls !== null || listen.proxied;
  const cookieFor = { httpOnly: true, sameSite: 'strict', secure, path: '/' } as const;
  const sessionOf = (request: Request): Session | null => {
    const cookie = cookieIn(request.headers.cookie);
    return cookie === null ? null : sessions.find(cookie);
  };

  async function signIn(request: Request, response: Response): Promise<void> {
    const address = request.ip ?? '';
    const { passphrase, then } = (request.body ?? {}) as { passphrase?: unknown; then?: unknown };
    const wanted = pageAfter(then);
    const refuse = (status: number, said: string): void => sendPage(response, status, said, wanted);
    if (typeof passphrase !== 'string' || passphrase === '') return refuse(400, 'Type the passphrase.');
    if (trying >= MOST_AT_ONCE) return refuse(429, 'Others are signing in just now. Try again in some seconds.');
    const wait = attempts.begin(address);
    if (wait > 0) {
      response.setHeader('Retry-After', wait);
      return refuse(429, `Too many wrong passphrases. Try again in ${inTime(wait)}.`);
    }
    trying++;
    const right = await isPassphrase(passphrase.slice(0, 1000), kept!).finally(() => trying--);
    if (!right) return refuse(401, 'That is not the passphrase.');
    attempts.right(address);
    const cookie = await sessions.begin({ address, browser: request.headers['user-agent'] ?? '' });
    response.cookie(COOKIE, cookie, { ...cookieFor, maxAge: DAYS_MS }).redirect(303, wanted);
  }

  const router = express.Router();
  router.use(fromItself((host) => listen.hosts.includes(nameInHost(host)), true));
  router.post('/sign-in', express.urlencoded({ extended: false, limit: '8kb' }), (request, response, next) => {
    signIn(request, response).catch(next);
  });
  router.use((request, response, next) => {
    const session = sessionOf(request);
    if (session) {
      sessions.hold(session, response);
      next();
    } else if (request.path === '/api' || request.path.startsWith('/api/'))
      throw new Problem(401, 'sign-in', 'Sign in first');
    else sendPage(response, 401, null, request.originalUrl);
  });
  return {
    ...{ listen, sessions, guard: router, sessionOf },
    async signOut(request, response) {
      const session = sessionOf(request);
      response.clearCookie(COOKIE, cookieFor).setHeader('Clear-Site-Data', '"cache"');
      response.json({ signedOut: true });
      // What ends with the session are other answers; this one has to arrive.
      response.once('finish', () => void (session && sessions.end(session.id)));
    },
  };
}

function sendPage(response: Response, status: number, said: string | null, wanted: string): void {
  const policy =
    "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'";
  response.setHeader('Content-Security-Policy', policy).setHeader('Cache-Control', 'no-store');
  // Without it a browser does not say where the form that it sends comes from.
  response.setHeader('Referrer-Policy', 'same-origin');
  response.status(status).type('html').send(signInPage(said, wanted));
}

const inTime = (seconds: number): string =>
  seconds === 1 ? 'a second' : seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`;

function cookieIn(header: string | undefined): string | null {
  for (const part of (header ?? '').split(';')) {
    const [name, value] = part.trim().split('=', 2);
    if (name === COOKIE && value) return value;
  }
  return null;
}
