import { GONE_CHOICES, FOLLOW_CHOICES, MAX_MIRROR_DEPTH, type MirrorSettings } from '@early-set/core/arrange/mirror';
import { Router } from 'express';
import Joi from 'joi';
import { makeMirror, takeMirrorApart, updateMirror, type MirrorForm } from '../../lists/mirrors.ts';
import type { Context } from '../context.ts';
import { route, uuidParam } from '../validate.ts';

const path = Joi.string().max(4000).allow('');
const settingsSchema = Joi.object<MirrorSettings>({
  rootId: Joi.number().integer().min(1).max(2_147_483_647).required(),
  path: path.required(),
  depth: Joi.number().integer().min(0).max(MAX_MIRROR_DEPTH).allow(null).required(),
  onlyWithTracks: Joi.boolean().required(),
  name: Joi.string().max(500).allow(null).required(),
  leftOut: Joi.array().items(path).max(2000).required(),
  follow: Joi.valid(...FOLLOW_CHOICES).required(),
  gone: Joi.valid(...GONE_CHOICES).required(),
});

/** Crates that follow the folders of a root. */
export function mirrorRoutes({ changing, members }: Context): Router {
  const router = Router();
  /** Whoever asks next sees crates with their tracks. */
  const filled = async <T>(made: Promise<T>): Promise<T> => {
    const answer = await made;
    members.changed();
    await members.fresh();
    return answer;
  };
  router.post(
    '/mirrors',
    route<unknown, unknown, MirrorForm>(
      {
        body: Joi.object({
          name: Joi.string().max(1000).allow('').default(''),
          parentId: Joi.string().guid().allow(null).default(null),
          settings: settingsSchema.required(),
        }),
      },
      ({ body }) => filled(changing.inTurn(() => makeMirror(changing, body))),
    ),
  );
  router.post(
    '/mirrors/:id/update',
    route<{ id: string }, unknown, { settings: MirrorSettings | null }>(
      { params: uuidParam, body: Joi.object({ settings: settingsSchema.allow(null).default(null) }) },
      ({ params, body }) => filled(changing.inTurn(() => updateMirror(changing, params.id, body.settings))),
    ),
  );
  router.post(
    '/mirrors/:id/take-apart',
    route<{ id: string }>({ params: uuidParam }, async ({ params }) => {
      await members.fresh();
      return changing.inTurn(() => takeMirrorApart(changing, params.id));
    }),
  );
  return router;
}
