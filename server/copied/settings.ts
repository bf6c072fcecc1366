/** Where the copy of the music lies, and what of the library is in it. */
import type { MusicCopySettings } from '@early-set/core/api/musicCopy';
import { Setting } from '../db/models.ts';

/** With the folder of each library folder below it: named once, so that another label moves nothing. */
export interface KeptSettings extends MusicCopySettings {
  folders: Record<string, string>;
}

const NONE: KeptSettings = { folder: null, daily: true, leftOut: [], folders: {} };
const NAME = 'musicCopy';

export async function musicCopySettings(): Promise<KeptSettings> {
  const row = await Setting.findByPk(NAME);
  return { ...NONE, ...(row?.value as Partial<KeptSettings> | undefined) };
}

export async function keepMusicCopySettings(wish: Partial<KeptSettings>): Promise<void> {
  await Setting.upsert({ name: NAME, value: { ...(await musicCopySettings()), ...wish } });
}
