/** Which conditions may be asked: their shape as it comes from outside. */
import Joi from 'joi';
import { daySchema } from '../clock/daySchema.ts';
import { ALL_KEYS } from '../fields/keys.ts';
import { FIELDS } from '../fields/table.ts';
import { SCAN_PARTS, SEARCHED } from './condition.ts';

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
  Joi.object({ field: fieldId.required(), test: Joi.valid('empty', 'by hand').required() }),
  Joi.object({ field: fieldId.required(), test: Joi.valid('begins').required(), text: text.max(4000).required() }),
  Joi.object({ field: fieldId.required(), test: Joi.valid('is').required(), value: Joi.boolean().required() }),
  Joi.object({
    field: fieldId.required(),
    test: Joi.valid('in the last').required(),
    days: Joi.number().integer().min(0).max(36_500).required(),
  }),
  Joi.object({ field: fieldId.required(), test: Joi.valid('days').required(), from: daySchema, to: daySchema }),
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
  Joi.object({ onDates: Joi.array().items(Joi.number().integer().min(1).max(2_147_483_647)).max(1000).required() }),
  Joi.object({
    ofScan: Joi.number().integer().min(1).max(2_147_483_647).required(),
    as: Joi.valid(...SCAN_PARTS).required(),
  }),
  Joi.object({ inLists: Joi.array().items(Joi.string().guid()).max(1000).required() }),
  Joi.object({
    test: Joi.valid('words').required(),
    text: text.max(1000).required(),
    field: Joi.string().valid(...SEARCHED.map((f) => f.id)),
  }),
);
