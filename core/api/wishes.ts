/**
 * What may be wished for by forms, checked by the page as it is typed and by the server as it comes: one schema for
 * both.
 */
import type { KeepRule } from '../backups/keep.ts';
import { conditionSchema } from '../conditions/schema.ts';
import { MAX_RULES, MAX_TEMPLATE, namer, type Naming, type NamingRule } from '../naming/naming.ts';
import { ACCENTS, DRIVES, MAX_NAME_BYTES, MIN_NAME_BYTES, type NameOptions } from '../naming/safeNames.ts';
import { CRITERIA, type KeepOrder } from '../duplicates/keep.ts';
import Joi from 'joi';
import { PARTS, type Part } from '../analysis/parts.ts';
import type { DateInfo } from '../changes/snapshot.ts';
import { RULE_CHOICES, type GapRules } from '../conditions/needs.ts';
import { DEFAULT_LINE } from '../exchange/line.ts';
import { daySchema } from '../clock/daySchema.ts';
import { LIST_FORMAT_IDS } from '../exchange/listFile.ts';
import { CATEGORIES } from '../bundle/manifest.ts';
import type { BackupSettings } from './backups.ts';
import type { BundleCompareWish, BundleMake, BundleReadWish } from './bundles.ts';
import type { ExportWish } from './types.ts';

/** What is saved under a name. */
export interface Named {
  name: string;
}
export const nameOfSaved = Joi.string()
  .trim()
  .min(1)
  .max(200)
  .required()
  .messages({ 'string.empty': 'Give it a name' });
export const nameSchema = Joi.object<Named>({ name: nameOfSaved });

const timeOfDaySchema = Joi.string()
  .pattern(/^(?:[01]\d|2[0-3]):[0-5]\d$/)
  .messages({ '*': 'A time of day, such as 22:00' });

export const dateSchema = Joi.object<DateInfo>({
  name: nameOfSaved,
  kind: Joi.valid('gig', 'show').required(),
  day: daySchema.required(),
  startsAt: timeOfDaySchema.allow(null).required(),
  asks: Joi.valid('floor', 'playout').required(),
  listIds: Joi.array().items(Joi.string().guid()).max(200).unique().required(),
});

/** Measuring again: of some tracks all, those an earlier version measured, or those less certain than a limit. */
export interface MeasureWish {
  older: boolean;
  /** From 0 to 1; null asks for no certainty. */
  below: number | null;
  /** Null for all. */
  parts: Part[] | null;
}
export const measureShape = {
  older: Joi.boolean().default(false),
  below: Joi.number().min(0).max(1).allow(null).default(null).messages({ '*': 'A number from 0 to 1' }),
  parts: Joi.array()
    .items(Joi.valid(...PARTS))
    .min(1)
    .unique()
    .allow(null)
    .default(null)
    .messages({ 'array.min': 'Choose at least one part' }),
};

export const exportShape: Record<keyof ExportWish, Joi.Schema> = {
  format: Joi.valid(...LIST_FORMAT_IDS).required(),
  paths: Joi.valid('absolute', 'relative').required(),
  line: Joi.string().max(4000).allow('').default(DEFAULT_LINE).messages({ 'string.max': 'The line is too long' }),
  rootId: Joi.number().integer().min(1).allow(null).default(null),
};

const rule = Joi.array()
  .items(Joi.valid(...RULE_CHOICES))
  .min(1)
  .unique()
  .messages({ 'array.min': 'Choose at least one field' });
export const gapRulesSchema = Joi.object<GapRules>({ floor: rule, playout: rule });

export const keepOrderSchema = Joi.object<KeepOrder>({
  criteria: Joi.array()
    .items(Joi.valid(...CRITERIA))
    .unique()
    .required(),
  folders: Joi.array().items(Joi.string().max(4000)).max(100).unique().required(),
});

const usable = (naming: Naming): Naming => {
  namer(naming);
  return naming;
};
export const namingSchema = Joi.object<Naming>({
  rules: Joi.array()
    .items(
      Joi.object<NamingRule>({
        id: Joi.string().max(60).required(),
        name: Joi.string().trim().max(100).required().messages({ '*': 'A rule needs a name' }),
        where: conditionSchema.allow(null).required(),
        template: Joi.string()
          .max(MAX_TEMPLATE)
          .required()
          .messages({ 'string.max': 'The rule is too long', '*': 'A rule needs a template' }),
        on: Joi.boolean().required(),
      }),
    )
    .max(MAX_RULES)
    .unique('id')
    .required(),
  options: Joi.object<NameOptions>({
    drives: Joi.valid(...DRIVES).required(),
    accents: Joi.valid(...ACCENTS).required(),
    articlesBehind: Joi.boolean().required(),
    maxBytes: Joi.number().integer().min(MIN_NAME_BYTES).max(MAX_NAME_BYTES).required(),
  }).required(),
})
  .custom(usable)
  .messages({ 'any.custom': '{{#error.message}}' });

const keep = (most: number): Joi.NumberSchema => Joi.number().integer().min(0).max(most).required();
export const backupSettingsSchema = Joi.object<BackupSettings>({
  on: Joi.boolean().required(),
  at: timeOfDaySchema.required(),
  folder: Joi.string().max(4000).allow(null).required(),
  keep: Joi.object<KeepRule>({ days: keep(60), weeks: keep(60), months: keep(120) }).required(),
});

const categories = Joi.array()
  .items(Joi.valid(...CATEGORIES))
  .unique()
  .required();
export const bundleMakeSchema = Joi.object<BundleMake>({
  folder: Joi.string().max(4000).required(),
  name: Joi.string()
    .trim()
    .min(1)
    .max(120)
    .pattern(/^[^./\\][^/\\]*$/)
    .required()
    .messages({ '*': 'Give it a name that a file can have' }),
  zip: Joi.boolean().required(),
  music: Joi.boolean()
    .required()
    .when('zip', { is: true, then: Joi.valid(false) })
    .messages({ 'any.only': 'Music goes only into a folder' }),
  categories,
  lists: Joi.array().items(Joi.string().guid()).min(1).max(5000).unique().allow(null).required(),
  layouts: Joi.array().items(Joi.object()).max(200).required(),
});
const bundlePath = Joi.string().max(4000).required();
const folderPlaces = Joi.array()
  .items(Joi.object({ id: Joi.number().integer().min(0).required(), path: Joi.string().max(4000).required() }))
  .max(1000)
  .unique('id')
  .required();
export const bundleReadSchema = Joi.object<BundleReadWish>({
  path: bundlePath,
  categories,
  folders: folderPlaces,
  music: Joi.boolean().required(),
});
export const bundleCompareSchema = Joi.object<BundleCompareWish>({ path: bundlePath, folders: folderPlaces });
