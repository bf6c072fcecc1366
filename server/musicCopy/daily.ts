/** The copy of the music is brought up to date each day, where that is wanted and its drive is there. */
import { Run } from '../db/models.ts';
import { MUSIC_COPY_TITLES, type MusicCopyRun } from './copyRun.ts';
import { troubleAt } from '../copied/places.ts';
import { musicCopySettings } from '../copied/settings.ts';

export async function copyDaily(run: MusicCopyRun): Promise<void> {
  const { folder, daily } = await musicCopySettings();
  if (folder === null || !daily || (await troubleAt(folder)) !== null) return;
  if (await Run.findOne({ where: { kind: 'musicCopy', state: 'running' } })) return;
  await run.start({ what: 'copy' }, { title: MUSIC_COPY_TITLES.copy });
}
