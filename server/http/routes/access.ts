import type { AccessAnswer } from '@early-set/core/api/access';
import { Router } from 'express';
import Joi from 'joi';
import type { Access } from '../../access/access.ts';
import { notFound } from '../../base/problem.ts';
import { route } from '../validate.ts';

/** Who has signed in from elsewhere, and signing out. @param access null: only this computer reaches it */
export function accessRoutes(access: Access | null): Router {
  const router = Router();
  router.get('/access', (request, response) => {
    const current = access?.sessionOf(request)?.id;
    const answer: AccessAnswer = {
      listening: access !== null,
      sessions: (access?.sessions.all() ?? [])
        .map(({ id, at, seen, address, browser }) => ({ id, at, seen, address, browser, current: id === current }))
        .sort((a, b) => (a.seen < b.seen ? 1 : -1)),
    };
    response.json(answer);
  });
  router.delete(
    '/access/:id',
    route<{ id: string }>({ params: Joi.object({ id: Joi.string().hex().max(32).required() }) }, async ({ params }) => {
      if (!(await access?.sessions.end(params.id))) throw notFound('The session');
      return { ended: true };
    }),
  );
  router.post('/sign-out', (request, response, next) => {
    if (access) access.signOut(request, response).catch(next);
    else response.json({ signedOut: false });
  });
  return router;
}
