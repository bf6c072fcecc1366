/** The Express application: guards, API routes, server events, and the page. */
import { createChannel, createSession } from 'better-sse';
import express, { type Express } from 'express';
import { join } from 'node:path';
import type { DatabaseEvent } from '../db/database.ts';
import type { Context } from './context.ts';
import { answerErrors, noSuchRoute } from './errors.ts';
import type { Access } from '../access/access.ts';
import { guardApp } from '../access/listening.ts';
import { jsonBody } from './json.ts';
import { longQuestions } from './longQuestions.ts';
import { backupRoutes } from './routes/backups.ts';
import { bundleRoutes } from './routes/bundles.ts';
import { changeRoutes } from './routes/changes.ts';
import { catalogueRoutes } from './routes/catalogue.ts';
import { cleanRoutes } from './routes/clean.ts';
import { completenessRoutes } from './routes/completeness.ts';
import { dateRoutes } from './routes/dates.ts';
import { editingRoutes } from './routes/byHand.ts';
import { fileRoutes } from './routes/files.ts';
import { intakeRoutes } from './routes/intake.ts';
import { listRoutes } from './routes/lists.ts';
import { listExportRoutes } from './routes/listExports.ts';
import { accessRoutes } from './routes/access.ts';
import { musicCopyRoutes } from './routes/musicCopy.ts';
import { workerRoutes } from './routes/workers.ts';
import { airplayRoutes } from './routes/airplay.ts';
import { diskRoutes } from './routes/disk.ts';
import { handoverRoutes } from './routes/handover.ts';
import { playoutRoutes } from './routes/playout.ts';
import { stickRoutes } from './routes/sticks.ts';
import { hourRoutes } from './routes/hours.ts';
import { mirrorRoutes } from './routes/mirrors.ts';
import { severalListRoutes } from './routes/severalLists.ts';
import { takeRoutes } from './routes/take.ts';
import { trackRoutes } from './routes/tracks.ts';

export interface App {
  express: Express;
  tell: (event: DatabaseEvent) => void;
}

/** Builds the application; `port` is asked at each request because it is known only when listening. */
export function createApp(
  context: Context,
  webFolder: string | null,
  port: () => number,
  access: Access | null = null,
): App {
  const app = express();
  const channel = createChannel();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  guardApp(app, port, access);
  app.use('/api', longQuestions);
  // A draft over many thousands of tracks is long.
  app.use(['/api/drafts', '/api/airings'], jsonBody('64mb'));
  app.use('/api', jsonBody('8mb'));
  app.get('/api/events', (request, response, next) => {
    createSession(request, response, { keepAlive: 15_000 }).then((session) => channel.register(session), next);
  });
  app.use('/api', (request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    // Whoever has changed something and asks at once is not told what was: the database's word of it may come later.
    if (request.method !== 'GET') response.once('finish', () => context.members.changed());
    next();
  });
  app.use(
    '/api',
    trackRoutes(context),
    intakeRoutes(context),
    severalListRoutes(context),
    listExportRoutes(context),
    listRoutes(context),
    mirrorRoutes(context),
    diskRoutes(context),
    hourRoutes(context),
    handoverRoutes(context),
    stickRoutes(context),
    playoutRoutes(context),
    airplayRoutes(context),
    changeRoutes(context),
    cleanRoutes(context),
    catalogueRoutes(context),
    editingRoutes(context),
    completenessRoutes(context),
    dateRoutes(context),
    fileRoutes(context),
    takeRoutes(context),
    backupRoutes(context),
    bundleRoutes(context),
    accessRoutes(access),
    workerRoutes(context),
    musicCopyRoutes(context),
    noSuchRoute,
  );
  if (webFolder) {
    app.use('/assets', express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y', index: false }));
    app.use(express.static(webFolder, { index: false }));
    app.get('/{*path}', (_request, response) =>
      response.sendFile(join(webFolder, 'index.html'), { headers: { 'Cache-Control': 'no-cache' } }),
    );
  }
  app.use(answerErrors);
  return { express: app, tell: (event) => channel.broadcast(event, 'change') };
}
