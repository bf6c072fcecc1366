import { PUT_NAMES } from '@early-set/core/files/put';
import { TAKE_STATES, type TakeQuestion, type TakeWish } from '@early-set/core/api/take';
import { Router } from 'express';
import Joi from 'joi';
import { realpath } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import type { OtherTrack } from '@early-set/core/exchange/collection';
import { placeHere } from '@early-set/core/sync/match';
import { notFound, Problem } from '../../base/problem.ts';
import { Preset, Root } from '../../db/models.ts';
import { serviceAddress } from '../../db/services.ts';
import { allowedFolder } from '../../intake/places.ts';
import { Looks, lookThrough, wantedTracks, type Looked } from '../../take/look.ts';
import { THUMBNAIL_SIZES, thumbnailOf } from '../../media/art.ts';
import { sendSound } from '../../media/sendSound.ts';
import { probeTechnical } from '../../media/tags.ts';
import { openPool } from '../../take/pool.ts';
import { allSources, type SourceTools } from '../../take/sources.ts';
import { moodsHere } from '../../take/takeDraft.ts';
import { takeTitle } from '../../take/taking.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

const source = Joi.string().max(4000).required();
const ids = (most: number) => Joi.array().items(Joi.string().max(4000)).max(most).unique().required();
const question = Joi.object<TakeQuestion>({
  source,
  list: Joi.string().max(4000).allow(null).default(null),
  find: Joi.string().max(300).allow('').default(''),
  state: Joi.valid(...TAKE_STATES)
    .allow(null)
    .default(null),
  sort: Joi.object({ field: Joi.string().max(40).required(), descending: Joi.boolean().required() })
    .allow(null)
    .default(null),
  basket: Joi.object({ tracks: ids(100_000), lists: ids(5000) }).default({ tracks: [], lists: [] }),
});
const wish = Joi.object<TakeWish>({
  source,
  tracks: ids(100_000),
  lists: ids(5000),
  copy: Joi.object({
    rootId: Joi.number().integer().min(1).max(2_147_483_647).required(),
    into: Joi.string().max(2000).allow('').required(),
    names: Joi.valid(...PUT_NAMES).required(),
  })
    .allow(null)
    .required(),
  over: Joi.valid('fill gaps', 'replace').required(),
  fromComments: Joi.boolean().required(),
  presetId: Joi.number().integer().min(1).max(2_147_483_647).allow(null).required(),
  crate: Joi.string().trim().min(1).max(200).allow(null).required(),
});
const soundQuery = Joi.object({ source, track: Joi.string().max(4000).required() });

/** Other collections: looked through, listened to, taken from. */
export function takeRoutes({ database, states, demoRoot, runs, changing }: Context): Router {
  const router = Router();
  const tools: SourceTools = { database, states, demoRoot };
  const looks = new Looks(tools);
  router.get(
    '/take/sources',
    route({}, () => allSources(tools)),
  );
  router.post(
    '/take/look',
    route<unknown, unknown, TakeQuestion>({ body: question }, async ({ body }) =>
      lookThrough(await looks.of(body.source), body, await moodsHere(database)),
    ),
  );
  router.post(
    '/take',
    route<unknown, unknown, TakeWish>({ body: wish }, async ({ body }) => {
      const looked = await looks.of(body.source);
      const wanted = wantedTracks(looked, body);
      if (wanted.length === 0) throw new Problem(409, 'nothing-to-do', 'No track is chosen');
      if (!body.copy && !looked.onThisMachine)
        throw new Problem(400, 'no-folder', 'Choose a folder that they are copied into');
      if (body.copy) {
        const root = await Root.findByPk(body.copy.rootId);
        if (!root || root.removed) throw notFound('The folder');
        if (root.awaySince) throw new Problem(409, 'drive-away', `The drive of ${root.label} is not there`);
        if (root.purpose === 'destination') throw new Problem(409, 'destination', `${root.label} is a destination`);
      }
      if (body.presetId !== null && !(await Preset.findByPk(body.presetId))) throw notFound('The preset');
      const title = takeTitle(looked, wanted.length);
      return { runId: await runs.taking.start({ ...body, demoRoot }, { title, total: wanted.length }) };
    }),
  );
  /** A track that is not here is listened to where it lies; the pool gives a short piece. */
  router.get(
    '/take/sound',
    route<unknown, { source: string; track: string }>({ query: soundQuery }, async ({ query, request, response }) => {
      const looked = await looks.of(query.source);
      const track = looked.byId.get(query.track);
      if (!track) throw notFound('The track');
      if (!looked.onThisMachine) {
        const address = await serviceAddress(database, 'pool');
        if (address === null) throw notFound('The pool');
        const piece = await openPool(address, { tries: 3 }).preview(track.id);
        if (!piece.ok) throw new Problem(404, 'no-piece', 'The pool has no piece of it to listen to');
        response.type('audio/mpeg');
        await pipeline(Readable.fromWeb(piece.body as ReadableStream), response);
        return undefined;
      }
      const path = await fileOf(looked, track);
      const { format, codec, durationSeconds } = await probeTechnical(path).catch(() => {
        throw new Problem(415, 'not-playable', `${basename(path)} cannot be played`);
      });
      await sendSound(
        path,
        {
          format: typeof format === 'string' ? format : null,
          codec: typeof codec === 'string' ? codec : null,
          durationSeconds: typeof durationSeconds === 'number' ? durationSeconds : null,
        },
        request,
        response,
      );
      return undefined;
    }),
  );
  /** The picture in a file that is not here. */
  router.get(
    '/take/picture',
    route<unknown, { source: string; track: string }>({ query: soundQuery }, async ({ query, response }) => {
      const looked = await looks.of(query.source);
      const track = looked.byId.get(query.track);
      if (!track || !looked.onThisMachine) throw notFound('The cover');
      const path = await fileOf(looked, track);
      // One that cannot be read has no cover; why it cannot be taken is said when it is.
      const picture = await changing.files.ask({ op: 'read', path }).then(
        (read) => read.picture,
        () => null,
      );
      const thumbnail = picture ? await thumbnailOf(picture.data, THUMBNAIL_SIZES[0]) : null;
      response.setHeader('Cache-Control', 'private, max-age=3600');
      if (thumbnail) response.type('image/jpeg').send(thumbnail);
      else response.status(204).end();
      return undefined;
    }),
  );
  const fileOf = async ({ maps }: Looked, { path }: OtherTrack): Promise<string> => {
    const whole = path === '' ? null : await realpath(placeHere(path, maps)).catch(() => null);
    if (whole === null) throw new Problem(404, 'file-not-found', 'Its file is not there');
    await allowedFolder(dirname(whole), demoRoot);
    return whole;
  };
  return router;
}
