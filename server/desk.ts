/**
 * The server for as long as the desk is open. To restore a backup it is stopped and started again; meanwhile its
 * address says what is being done.
 */
import express from 'express';
import type { RestoreOutcome, RestoreProgress } from '@early-set/core/api/backups';
import { log } from './base/log.ts';
import { Problem } from './base/problem.ts';
import type { Restoring } from './backups/restoring.ts';
import { LAST_STEP, restoreBackup } from './backups/restore.ts';
import { openAccess, type Access } from './access/access.ts';
import { readListen, type ListenArguments } from './access/listen.ts';
import { guardApp, listenAt, serverFor } from './access/listening.ts';
import { answerErrors } from './http/errors.ts';
import { start, type RunningServer, type ServerOptions } from './main.ts';

export { keepGoing } from './base/log.ts';

/** Who may come in from elsewhere, as the command line says. @throws Problem in words where that cannot be */
export const openAccessAs = (dataFolder: string, given: ListenArguments): Promise<Access> =>
  openAccess(dataFolder, readListen(given));

export interface Desk {
  address: string;
  /** Another one after each restore. */
  server: () => RunningServer;
  /** Settled when no restore is under way. */
  idle: () => Promise<void>;
  stop: () => Promise<void>;
}

/** So that the answer to the one who asked for it is on its way. */
const AFTER_ANSWER_MS = 50;

/** @param gaveUp told when the server cannot be started again after a restore, not even with what was there before */
export async function openDesk(options: ServerOptions, gaveUp: (error: unknown) => void): Promise<Desk> {
  let last: RestoreOutcome | null = null;
  let under: Promise<void> = Promise.resolve();
  let stopped = false;
  let cancel: AbortController | null = null;
  const restoring: Restoring = {
    begin(id, folder) {
      under = new Promise((resolve) => setTimeout(resolve, AFTER_ANSWER_MS))
        .then(() => restore(id, folder))
        .catch(gaveUp);
    },
    last: () => last,
  };
  const always = { ...options, backUp: true, restoring };
  let server = await start(always);
  const { address, port } = server;
  const access = options.access ?? null;

  const restore = async (id: string, folder: string): Promise<void> => {
    await server.stop();
    const cancelling = (cancel = new AbortController());
    const progress: RestoreProgress = { id, step: 'Stopping', canCancel: true };
    const close = await sayMeanwhile(port, access, progress, () => cancelling.abort());
    const places = { databaseUrl: options.databaseUrl, dataFolder: options.dataFolder, folder };
    const at = new Date().toISOString();
    const tell = (step: string): void => {
      progress.step = step;
      if (step === LAST_STEP) progress.canCancel = false;
    };
    try {
      const { signal } = cancelling;
      last = { id, at, reason: null, before: await restoreBackup(places, id, { tell, signal }) };
    } catch (error) {
      const cancelled = cancelling.signal.aborted;
      if (!cancelled) log.error(error, 'a backup could not be restored');
      const words = cancelled ? 'It was cancelled' : error instanceof Problem ? error.message : 'It broke off';
      last = { id, at, reason: `${words}. Everything is as it was.`, before: null };
    }
    await close();
    if (stopped) return;
    const again = { ...always, port, anyPort: false };
    try {
      server = await start(again);
    } catch (error) {
      if (!last.before) throw error;
      log.error(error, 'the desk does not start on what was restored; what was there before is put back');
      await restoreBackup(places, last.before, { backUpFirst: false });
      last = { ...last, reason: 'The desk did not start on it. Everything is as it was.' };
      server = await start(again);
    }
  };

  return {
    address,
    server: () => server,
    idle: () => under,
    async stop() {
      stopped = true;
      cancel?.abort();
      await under;
      await server.stop().catch((error: unknown) => log.error(error, 'the server did not stop well'));
    },
  };
}

const PAGE = (step: string): string => `<!doctype html><html lang="en"><meta charset="utf-8">
<meta http-equiv="refresh" content="2"><title>Early Set</title>
<body style="font:15px sans-serif;margin:15vh auto;max-width:30em;background:#E7ECEE;color:#0F2A33">
<h1 style="font-size:20px">A backup is being restored</h1><p>${step}…</p>
<p>This page opens by itself when it is done.</p>`;

/** Answers at the desk's port while nobody else does. */
async function sayMeanwhile(
  port: number,
  access: Access | null,
  progress: RestoreProgress,
  cancel: () => void,
): Promise<() => Promise<void>> {
  const app = express();
  app.disable('x-powered-by');
  guardApp(app, () => port, access);
  app.get('/api/backups/restoring', (_request, response) => {
    response.setHeader('Cache-Control', 'no-store').json(progress);
  });
  app.post('/api/backups/restoring/cancel', (_request, response) => {
    cancel();
    response.json({});
  });
  app.use('/api', () => {
    throw new Problem(503, 'restoring', `A backup is being restored: ${progress.step}`);
  });
  app.use((_request, response) => {
    response.setHeader('Cache-Control', 'no-store').status(503).type('html').send(PAGE(progress.step));
  });
  app.use(answerErrors);
  const server = serverFor(app, access);
  await listenAt(server, port, access);
  return () =>
    new Promise((resolve) => {
      server.close(() => resolve());
      server.closeAllConnections();
    });
}
