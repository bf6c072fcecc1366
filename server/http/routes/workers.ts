import { Router } from 'express';
import { workersNow } from '../../elsewhere/workers.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

/** Who takes jobs, here and on other computers. */
export function workerRoutes({ database }: Context): Router {
  const router = Router();
  router.get(
    '/workers',
    route({}, () => workersNow(database)),
  );
  return router;
}
