/** Days as they come from outside. */
import Joi from 'joi';

/** "2026-11-27". The 31st of June is no day. */
export const daySchema = Joi.string()
  .pattern(/^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/)
  .custom((value: string, helpers) => {
    const read = new Date(`${value}T12:00:00Z`);
    return !Number.isNaN(read.getTime()) && read.toISOString().startsWith(value) ? value : helpers.error('any.invalid');
  }, 'a day')
  .messages({ '*': 'Choose a day' });
