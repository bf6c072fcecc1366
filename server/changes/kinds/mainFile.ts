import { mainFileKind, type MainFile } from '@early-set/core/changes/kinds/mainFile';
import { setMainFiles } from '../../library/trackFiles.ts';
import { serverKind } from './kind.ts';

export const mainFileStored = serverKind<MainFile>({
  kind: mainFileKind.kind,
  tells: 'tracks',
  wants({ trackId }, wants) {
    wants.tracks.add(trackId);
    wants.filesOf.add(trackId);
  },
  store: ({ database, t }, items) =>
    setMainFiles(
      database,
      items.map(({ trackId, before, after }) => ({ trackId, was: before.fileId, fileId: after.fileId })),
      t,
    ),
});
