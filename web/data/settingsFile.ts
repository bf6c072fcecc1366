/** Settings as a file, by categories: written, read, and put in place of those that are here. */
import type { BackupSettings } from '@early-set/core/api/backups';
import type { DeskSettings } from '@early-set/core/api/settings';
import type { SavedPreset } from '@early-set/core/api/types';
import { readLayout, type Layout } from './layouts.ts';

export const SETTINGS_KIND = 'early-set-settings';

/** Those of the server, by category. */
const KEYS = {
  edits: ['editsGoTo', 'changedFiles', 'newId3Version', 'starsInFiles', 'quarantineDays'],
  naming: ['naming'],
  ready: ['gapRules'],
  duplicates: ['keepOrder'],
  listening: ['keyLock'],
} as const satisfies Record<string, readonly (keyof DeskSettings)[]>;

export const SETTING_CATEGORIES = [
  ...(Object.keys(KEYS) as (keyof typeof KEYS)[]),
  ...(['backups', 'presets', 'layouts'] as const),
] as const;
export type SettingCategory = (typeof SETTING_CATEGORIES)[number];

/** Of backups, where they go is a matter of each computer. */
type KeptBackups = Omit<BackupSettings, 'folder'>;
type KeptPreset = Pick<SavedPreset, 'name' | 'steps'>;

export interface SettingsParts {
  settings: Partial<Omit<DeskSettings, 'backups'>>;
  backups?: KeptBackups;
  presets?: KeptPreset[];
  layouts?: Layout[];
}

export interface HereNow {
  settings: DeskSettings;
  presets: readonly SavedPreset[];
  layouts: readonly Layout[];
}

/** What is here, of some categories. */
export function partsOf({ settings, presets, layouts }: HereNow, wanted: ReadonlySet<SettingCategory>): SettingsParts {
  const parts: SettingsParts = { settings: {} };
  for (const [category, keys] of Object.entries(KEYS))
    if (wanted.has(category as SettingCategory))
      Object.assign(parts.settings, Object.fromEntries(keys.map((key) => [key, settings[key]])));
  if (wanted.has('backups')) {
    const { on, at, keep } = settings.backups;
    parts.backups = { on, at, keep };
  }
  if (wanted.has('presets')) parts.presets = presets.map(({ name, steps }) => ({ name, steps }));
  if (wanted.has('layouts')) parts.layouts = [...layouts];
  return parts;
}

/** As the text of a file. */
export const settingsFile = (parts: SettingsParts): string =>
  `${JSON.stringify({ kind: SETTINGS_KIND, version: 1, ...parts }, null, 2)}\n`;

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * Reads such a file; what this version does not know is left out. Whether values are right, the server says.
 * @throws Error with a sentence when it is none
 */
export function readSettingsFile(text: string): SettingsParts {
  const none = new Error('This is not a settings file of Early Set');
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    throw none;
  }
  if (!isObject(raw) || raw.kind !== SETTINGS_KIND) throw none;
  if (raw.version !== 1) throw new Error('These settings are from a newer version');
  const said = isObject(raw.settings) ? raw.settings : {};
  const known = Object.values(KEYS).flat();
  const parts: SettingsParts = {
    settings: Object.fromEntries(known.filter((key) => key in said).map((key) => [key, said[key]])),
  };
  if (isObject(raw.backups)) parts.backups = raw.backups as unknown as KeptBackups;
  if (Array.isArray(raw.presets))
    parts.presets = raw.presets.flatMap((preset: unknown): KeptPreset[] =>
      isObject(preset) && typeof preset.name === 'string' && Array.isArray(preset.steps)
        ? [{ name: preset.name, steps: preset.steps as SavedPreset['steps'] }]
        : [],
    );
  if (Array.isArray(raw.layouts))
    parts.layouts = raw.layouts.flatMap((layout: unknown) => (isObject(layout) ? readLayout(layout) : []));
  return parts;
}

/** Which categories stand in it. */
export function categoriesIn({ settings, backups, presets, layouts }: SettingsParts): SettingCategory[] {
  const has: Partial<Record<SettingCategory, unknown>> = { backups, presets, layouts };
  return SETTING_CATEGORIES.filter((category) =>
    category in KEYS ? KEYS[category as keyof typeof KEYS].some((key) => key in settings) : has[category] !== undefined,
  );
}

/** Only some categories of it. */
export function only(parts: SettingsParts, wanted: ReadonlySet<SettingCategory>): SettingsParts {
  const keys = Object.entries(KEYS).flatMap(([category, of]) =>
    wanted.has(category as SettingCategory) ? [...of] : [],
  );
  const settings = Object.fromEntries(
    keys.filter((key) => key in parts.settings).map((key) => [key, parts.settings[key as keyof typeof parts.settings]]),
  );
  return {
    settings,
    ...(wanted.has('backups') && parts.backups ? { backups: parts.backups } : {}),
    ...(wanted.has('presets') && parts.presets ? { presets: parts.presets } : {}),
    ...(wanted.has('layouts') && parts.layouts ? { layouts: parts.layouts } : {}),
  };
}

/** Those of the same name give way. */
export const withNames = <T extends { name: string }>(here: readonly T[], more: readonly T[]): T[] => {
  const names = new Set(more.map(({ name }) => name));
  return [...here.filter(({ name }) => !names.has(name)), ...more].sort((a, b) => a.name.localeCompare(b.name));
};
