/** Settings of the desk that the server acts on. */
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import { Setting } from './models.ts';

/** As they stand, with the defaults for what was never set. */
export async function deskSettings(): Promise<DeskSettings> {
  const row = await Setting.findByPk('desk');
  return { ...DEFAULT_SETTINGS, ...(row?.value as Partial<DeskSettings> | undefined) };
}

/** Changes some of them. */
export async function changeSettings(wish: Partial<DeskSettings>): Promise<DeskSettings> {
  const next = { ...(await deskSettings()), ...wish };
  await Setting.upsert({ name: 'desk', value: next });
  return next;
}
