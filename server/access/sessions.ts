/** Browsers that have signed in: kept in a file beside the passphrase, by the hash of what their cookie says. */
import { createHash, randomBytes } from 'node:crypto';
import type { ServerResponse } from 'node:http';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { SessionLine } from '@early-set/core/api/access';
import { log } from '../base/log.ts';
import { writePrivately } from './passphrase.ts';

/** Not seen for so long, it has to sign in again. */
export const IDLE_MS = 30 * 24 * 3_600_000;
/** When it was seen is written down so often. */
const SEEN_MS = 600_000;

export interface Session extends Omit<SessionLine, 'current'> {
  token: string;
  /** With which passphrase it signed in: with another one it has to do so again. */
  phrase: string;
}

export interface Sessions {
  /** @returns what its cookie says */
  begin(of: { address: string; browser: string }): Promise<string>;
  find(cookie: string, now?: Date): Session | null;
  /** An answer that is on its way to it ends with it. */
  hold(session: Session, response: ServerResponse): void;
  all(): Session[];
  /** @returns whether there was one */
  end(id: string): Promise<boolean>;
}

const hashOf = (cookie: string): string => createHash('sha256').update(cookie).digest('hex');

/** @param phrase what is kept of the passphrase that counts now */
export async function openSessions(dataFolder: string, phrase: string): Promise<Sessions> {
  const file = join(dataFolder, 'access', 'sessions.json');
  const kept = await readFile(file, 'utf8')
    .then((text) => JSON.parse(text) as Session[])
    .catch(() => []);
  const byToken = new Map(kept.filter((s) => s.phrase === phrase).map((s) => [s.token, s]));
  const held = new Map<string, Set<ServerResponse>>();
  let saving: Promise<void> = Promise.resolve();
  const save = (): Promise<void> =>
    (saving = saving
      .then(() => writePrivately(file, JSON.stringify([...byToken.values()])))
      .catch((error: unknown) => log.error(error, 'who is signed in could not be written down')));
  const over = ({ seen }: Session, now: Date): boolean => now.getTime() - Date.parse(seen) > IDLE_MS;
  const drop = ({ token, id }: Session): void => {
    byToken.delete(token);
    for (const response of held.get(id) ?? []) response.destroy();
    held.delete(id);
  };
  return {
    async begin({ address, browser }) {
      const cookie = randomBytes(32).toString('base64url'),
        now = new Date().toISOString();
      const session = { id: randomBytes(8).toString('hex'), token: hashOf(cookie), phrase, at: now, seen: now };
      byToken.set(session.token, { ...session, address, browser: browser.slice(0, 300) });
      await save();
      return cookie;
    },
    find(cookie, now = new Date()) {
      const session = byToken.get(hashOf(cookie));
      if (!session) return null;
      if (over(session, now)) {
        drop(session);
        void save();
        return null;
      }
      if (now.getTime() - Date.parse(session.seen) > SEEN_MS) {
        session.seen = now.toISOString();
        void save();
      }
      return session;
    },
    hold({ id }, response) {
      const of = held.get(id) ?? new Set();
      held.set(id, of.add(response));
      response.once('close', () => of.delete(response));
    },
    all: () => [...byToken.values()].filter((s) => !over(s, new Date())),
    async end(id) {
      const session = [...byToken.values()].find((s) => s.id === id);
      if (!session) return false;
      drop(session);
      await save();
      return true;
    },
  };
}
