/** A format clock as it comes from outside: checked, and put into the shape that filling takes. */
import Joi from 'joi';
import { conditionSchema } from '../conditions/schema.ts';
import type { ClockItem, FormatClock } from './clock.ts';
import { APART, IN_A_ROW } from './rules.ts';
import { WEEKDAYS, type ClockWeek } from './week.ts';

/** Of the description in docs/formats/clock.md. */
export const CLOCK_VERSION = 1;

const text = Joi.string().max(500);
const seconds = Joi.number().min(0).max(86_400);
const strength = { hard: Joi.boolean().default(false), weight: Joi.number().min(0).max(1000).default(10) };
const fixed = Joi.object({
  at: seconds.required(),
  when: Joi.valid('exact', 'not before').default('exact'),
});

const itemSchema = Joi.alternatives().conditional('.item', {
  switch: [
    {
      is: Joi.valid('spoken', 'link', 'jingle'),
      then: Joi.object({
        item: Joi.required(),
        name: text.required(),
        seconds: seconds.greater(0).required(),
        overIntro: seconds,
        bed: text,
        fixed,
      }),
    },
    {
      is: 'track',
      then: Joi.object({
        item: Joi.required(),
        name: text.default('Track'),
        from: conditionSchema,
        energy: Joi.number().min(0).max(100),
        bpm: Joi.number().min(20).max(400),
        fixed,
      }),
    },
    {
      is: 'filler',
      then: Joi.object({
        item: Joi.required(),
        name: text.default('Filler'),
        from: conditionSchema,
        most: Joi.number().integer().min(1).max(40).default(10),
        fixed,
      }),
    },
  ],
  otherwise: Joi.object({ item: Joi.valid('spoken', 'link', 'jingle', 'track', 'filler').required() }).unknown(),
});

const rule = (name: string, more: Joi.PartialSchemaMap = {}): { is: string; then: Joi.ObjectSchema } => ({
  is: name,
  then: Joi.object({ rule: Joi.required(), ...strength, ...more }),
});
const share = Joi.number().min(0).max(1);
const RULES = [
  rule('apart', {
    what: Joi.valid(...APART).required(),
    minutes: Joi.number()
      .greater(0)
      .max(60 * 24 * 366)
      .required(),
  }),
  rule('rested', { days: Joi.number().greater(0).max(3660).required() }),
  rule('in a row', {
    what: Joi.valid(...IN_A_ROW).required(),
    most: Joi.number().integer().min(1).max(100).required(),
  }),
  rule('new', {
    days: Joi.number().integer().min(1).max(3660).required(),
    count: Joi.number().integer().min(0).max(100).required(),
  }),
  rule('share', { name: text.required(), from: conditionSchema.required(), least: share, most: share }),
  rule('instrumental before link'),
  rule('intro for link'),
  rule('cold end before soft start'),
  rule('loudness step', { most: Joi.number().min(0).max(60).required() }),
];
const ruleSchema = Joi.alternatives().conditional('.rule', {
  switch: RULES,
  otherwise: Joi.object({ rule: Joi.valid(...RULES.map((r) => r.is)).required() }).unknown(),
});

const timeOfDay = Joi.string().pattern(/^([01]\d|2[0-3]):[0-5]\d$/);
const version = Joi.valid(CLOCK_VERSION).required();
const clockShape = {
  name: text.required(),
  seconds: seconds.greater(0).default(3600),
  items: Joi.array().items(itemSchema).min(1).max(400).required(),
  rules: Joi.array().items(ruleSchema).max(100).default([]),
  aliases: Joi.array().items(Joi.array().items(text).min(2).max(100)).max(10_000),
  explicitFrom: timeOfDay,
};
const clockSchema = Joi.object({ version, ...clockShape });
const weekSchema = Joi.object({
  version,
  clocks: Joi.array().items(Joi.object(clockShape)).min(1).max(200).unique('name').required(),
  week: Joi.array()
    .items(
      Joi.object({
        days: Joi.array()
          .items(Joi.valid(...WEEKDAYS))
          .min(1)
          .default([...WEEKDAYS]),
        from: timeOfDay.required(),
        to: timeOfDay.required(),
        clock: text.required(),
      }),
    )
    .min(1)
    .max(1000)
    .required(),
});

/** Reads a clock. @returns a sentence where it is none */
export function readClock(value: unknown): FormatClock | string {
  const { value: read, error } = clockSchema.validate(value, { abortEarly: true });
  if (error) return error.message;
  const clock = { ...(read as FormatClock & { version?: number }) };
  delete clock.version;
  return fixedInOrder(clock) ?? clock;
}

/** Reads clocks by weekdays and times, or a single clock, which every hour has then. */
export function readWeek(value: unknown): ClockWeek | string {
  if (typeof value !== 'object' || value === null || !('clocks' in value)) {
    const clock = readClock(value);
    if (typeof clock === 'string') return clock;
    return { clocks: [clock], week: [{ days: WEEKDAYS, from: '00:00', to: '00:00', clock: clock.name }] };
  }
  const { value: read, error } = weekSchema.validate(value, { abortEarly: true });
  if (error) return error.message;
  const { clocks, week } = read as ClockWeek;
  for (const clock of clocks) {
    const wrong = fixedInOrder(clock);
    if (wrong) return `${clock.name}: ${wrong}`;
  }
  const unknown = week.find((w) => !clocks.some((c) => c.name === w.clock));
  return unknown ? `There is no clock "${unknown.clock}"` : { clocks, week };
}

/** Fixed times have to come one after the other, inside the hour. */
function fixedInOrder({ items, seconds: whole }: { items: readonly ClockItem[]; seconds: number }): string | null {
  let last = 0;
  for (const { name, fixed: time } of items) {
    if (!time) continue;
    if (time.at < last) return `"${name}" is to begin before what stands before it`;
    if (time.at >= whole) return `"${name}" is to begin after the end of the hour`;
    last = time.at;
  }
  return null;
}
