import { Router } from 'express';
import Joi from 'joi';
import type { PathMap } from '@early-set/core/relink/pathMap';
import { findTracks, tryPathMap } from '../../disk/findAgain.ts';
import { notFound } from '../../disk/notFound.ts';
import { relinkTracks, type RelinkPair } from '../../disk/relink.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

const trackId = Joi.number().integer().min(1).max(2_147_483_647);
const MAX_TRACKS = 20_000;

/** What is on the drives: what is not found, and finding it again. */
export function diskRoutes({ database, changing, relinkPool }: Context): Router {
  const router = Router();
  const { inTurn } = changing;
  router.get(
    '/disk/not-found',
    route({}, () => notFound(database)),
  );
  router.post(
    '/disk/find-again',
    route<unknown, unknown, { trackIds: number[] | null }>(
      { body: Joi.object({ trackIds: Joi.array().items(trackId).min(1).max(MAX_TRACKS).allow(null).default(null) }) },
      ({ body, response }) => {
        const gone = new AbortController();
        response.on('close', () => gone.abort());
        return findTracks(database, relinkPool, body.trackIds, gone.signal);
      },
    ),
  );
  router.post(
    '/disk/path-map',
    route<unknown, unknown, PathMap>(
      { body: Joi.object({ from: Joi.string().max(4000).required(), to: Joi.string().max(4000).required() }) },
      ({ body }) => tryPathMap(database, body),
    ),
  );
  router.post(
    '/disk/relink',
    route<unknown, unknown, { pairs: RelinkPair[] }>(
      {
        body: Joi.object({
          pairs: Joi.array()
            .items(
              Joi.object({
                trackId: trackId.required(),
                otherId: trackId.required(),
                offsetSeconds: Joi.number().min(-60).max(60).default(0),
              }),
            )
            .min(1)
            .max(MAX_TRACKS)
            .required(),
        }),
      },
      ({ body }) => inTurn(() => relinkTracks(changing, body.pairs)),
    ),
  );
  return router;
}
