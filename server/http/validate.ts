/** Joi on every route: what does not fit is answered with a sentence, and only what fits goes on. */
import type { Selection } from '@early-set/core/api/types';
import type { Request, RequestHandler, Response } from 'express';
import Joi from 'joi';
import { conditionSchema } from '@early-set/core/conditions/schema';
import { Problem } from '../base/problem.ts';

export interface Shapes {
  params?: Joi.ObjectSchema;
  query?: Joi.ObjectSchema;
  body?: Joi.Schema;
}

export interface Checked<P = unknown, Q = unknown, B = unknown> {
  params: P;
  query: Q;
  body: B;
  request: Request;
  response: Response;
}

function check<T>(schema: Joi.Schema | undefined, value: unknown): T {
  if (!schema) return undefined as T;
  const { value: clean, error } = schema.validate(value ?? {}, {
    abortEarly: true,
    convert: true,
    stripUnknown: false,
  });
  if (error) throw new Problem(400, 'bad-request', `The request is not right: ${error.message.slice(0, 300)}`);
  return clean as T;
}

/** A route whose inputs have been checked; what it returns is sent as JSON, undefined when it has answered itself. */
export function route<P = unknown, Q = unknown, B = unknown>(
  shapes: Shapes,
  handle: (input: Checked<P, Q, B>) => Promise<unknown>,
): RequestHandler & { shapes: Shapes } {
  const answer: RequestHandler = (request, response, next) => {
    (async () => {
      const input = {
        params: check<P>(shapes.params ?? Joi.object({}), request.params),
        query: check<Q>(shapes.query ?? Joi.object({}), request.query),
        body: check<B>(shapes.body, request.body),
        request,
        response,
      };
      const made = await handle(input);
      if (made !== undefined) response.json(made);
    })().catch(next);
  };
  return Object.assign(answer, { shapes });
}

/** Aborted when nobody waits for the answer any more. */
export function goneWith(response: Response): AbortSignal {
  const gone = new AbortController();
  response.on('close', () => gone.abort());
  return gone.signal;
}

/** JSON in a query string. */
export const jsonOf = (schema: Joi.Schema): Joi.Schema =>
  Joi.string()
    .max(1_000_000)
    .custom((value: string, helpers) => {
      try {
        const { value: clean, error } = schema.validate(JSON.parse(value));
        return error ? helpers.error('any.invalid') : clean;
      } catch {
        return helpers.error('any.invalid');
      }
    }, 'JSON');

export const idParam = Joi.object({ id: Joi.number().integer().min(1).max(2_147_483_647).required() });
export const uuidParam = Joi.object({ id: Joi.string().guid().required() });
export const trackIds = Joi.array().items(Joi.number().integer().min(1).max(2_147_483_647)).max(200_000);

/** Chosen tracks: ids, or everything that matches but a few. */
export const selectionSchema: Joi.Schema<Selection> = Joi.alternatives(
  Joi.object({ ids: trackIds.required() }),
  Joi.object({ where: conditionSchema.required(), except: trackIds.required() }),
);
