/** A WAV file's `cart` chunk: written where the file lies, and its bytes put back. */
import { writeMarksKind, type WriteMarks } from '@early-set/core/changes/kinds/writeMarks';
import type { FileStamp } from '../../files/fileTasks.ts';
import { conflict } from '../context.ts';
import { storeFileTags } from '../fileTags.ts';
import { bytesBack, pathOf, performBytes, recoverBytes, weighMain, type BytesIntent } from './bytes.ts';
import { serverKind, type FileWork } from './kind.ts';

const files: FileWork<WriteMarks, BytesIntent, FileStamp> = {
  async prepare(context, line) {
    const { trackId, cart, back } = line.item;
    const path = await pathOf(context.database, trackId);
    const restored = await bytesBack(context, path, line);
    if (restored) return { intent: restored };
    if (back) return conflict('The file has been changed since: what was there before cannot be put back');
    return { intent: { path, ...(await context.files.ask({ op: 'marks', path, cart })) } };
  },
  perform: (context, _line, intent) => performBytes(context, intent, false),
  settle: ({ database }, { item: { trackId } }, _intent, stamp, t) =>
    storeFileTags(database, [{ id: trackId, stamp }], t),
  recover: (context, { item: { trackId } }, intent) => recoverBytes(context, trackId, intent),
  weigh: ({ trackId }, snapshot) => weighMain(trackId, snapshot),
};

export const writeMarksStored = serverKind<WriteMarks, BytesIntent, FileStamp>({
  kind: writeMarksKind.kind,
  tells: 'tracks',
  changes: () => [],
  wants({ trackId }, wants) {
    wants.tracks.add(trackId);
    wants.filesOf.add(trackId);
  },
  files,
});
