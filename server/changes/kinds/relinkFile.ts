import { relinkFileKind, type RelinkFile } from '@early-set/core/changes/kinds/relinkFile';
import { storeFiles } from '../../library/trackFiles.ts';
import { serverKind } from './kind.ts';

export const relinkFileStored = serverKind<RelinkFile>({
  kind: relinkFileKind.kind,
  tells: 'tracks',
  wants({ trackId, after }, wants) {
    wants.tracks.add(trackId);
    wants.filesOf.add(trackId);
    wants.places.push(after.ref);
  },
  store: ({ database, t }, items) =>
    storeFiles(
      database,
      items.map(({ fileId, after }) => ({ id: fileId, ...after })),
      t,
    ),
});
