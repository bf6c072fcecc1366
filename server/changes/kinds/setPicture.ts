import { setPictureKind, type SetPicture } from '@early-set/core/changes/kinds/setPicture';
import { serverKind } from './kind.ts';

export const setPictureStored = serverKind<SetPicture>({
  kind: setPictureKind.kind,
  tells: 'tracks',
  wants: ({ trackId }, wants) => void wants.tracks.add(trackId),
  async store({ database, snapshot, t }, items) {
    const pictures = [...new Set(items.map((i) => i.trackId))].map((id) => ({
      id,
      hash: snapshot.tracks.get(id)?.artHash ?? null,
    }));
    await database.run(
      `UPDATE tracks t SET art_hash = v.hash FROM jsonb_to_recordset($1::jsonb) AS v(id int, hash text)
        WHERE t.id = v.id`,
      [JSON.stringify(pictures)],
      t,
    );
  },
});
