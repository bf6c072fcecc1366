/** Joi on every route: what does not fit is answered with a sentence, and only what fits goes on. */
import type { Selection } from '@early-set/core/api/types';
import type { Request, RequestHandler, Response } from 'express';
import Joi from 'joi';
import { SEARCHED } from '@early-set/core/conditions/condition';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { FIELDS } from '@early-set/core/fields/table';
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

const text = Joi.string().max(20_000).allow('');
const fieldId = Joi.string().valid(...FIELDS.map((f) => f.id));

/** The condition tree, at most 12 deep. */
export const conditionSchema: Joi.Schema = Joi.any().custom((value: unknown, helpers) => {
  const walk = (node: unknown, depth: number): boolean => {
    if (depth > 12 || typeof node !== 'object' || node === null) return false;
    const n = node as Record<string, unknown>;
    for (const key of ['all', 'any'] as const)
      if (key in n) return Array.isArray(n[key]) && n[key].length <= 500 && n[key].every((c) => walk(c, depth + 1));
    if ('not' in n) return walk(n.not, depth + 1);
    return LEAF.validate(n, { convert: false }).error === undefined;
  };
  return walk(value, 0) ? value : helpers.error('any.invalid');
}, 'condition tree');

const number = Joi.number().min(-1e12).max(1e12);
const LEAF = Joi.alternatives(
  Joi.object({ field: fieldId.required(), test: Joi.valid('between').required(), low: number, high: number }),
  Joi.object({
    field: fieldId.required(),
    test: Joi.valid('one of').required(),
    values: Joi.array().items(text).max(1000).required(),
  }),
  Joi.object({ field: fieldId.required(), test: Joi.valid('empty').required() }),
  Joi.object({ field: fieldId.required(), test: Joi.valid('begins').required(), text: text.max(4000).required() }),
  Joi.object({ field: fieldId.required(), test: Joi.valid('is').required(), value: Joi.boolean().required() }),
  Joi.object({
    field: fieldId.required(),
    test: Joi.valid('in the last').required(),
    days: Joi.number().integer().min(0).max(36_500).required(),
  }),
  Joi.object({
    field: fieldId.required(),
    test: Joi.valid('near key').required(),
    key: Joi.valid(...ALL_KEYS).required(),
    reach: Joi.number().integer().min(0).max(6).required(),
  }),
  Joi.object({
    field: fieldId.required(),
    test: Joi.valid('tempo').required(),
    low: number.required(),
    high: number.required(),
  }),
  Joi.object({
    inFolder: Joi.object({
      rootId: Joi.number().integer().min(1).max(2_147_483_647).required(),
      path: Joi.string().max(4000).allow('').required(),
    }).required(),
    below: Joi.boolean().required(),
  }),
  Joi.object({ inLists: Joi.array().items(Joi.string().guid()).max(1000).required() }),
  Joi.object({
    test: Joi.valid('words').required(),
    text: text.max(1000).required(),
    field: Joi.string().valid(...SEARCHED.map((f) => f.id)),
  }),
);

/** JSON in a query string. */
export const jsonOf = (schema: Joi.Schema): Joi.Schema =>
  Joi.string()
    .max(100_000)
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
