import { setFieldKind, type SetField } from '@early-set/core/changes/kinds/setField';
import { heldIn } from '@early-set/core/changes/snapshot';
import type { Held } from '@early-set/core/fields/values';
import { unwrittenAfter } from '@early-set/core/tags/values';
import { deskSettings } from '../../db/settings.ts';
import { storeTracks } from '../../library/trackStore.ts';
import { knownFileFields } from '../fileTags.ts';
import { serverKind } from './kind.ts';

export const setFieldStored = serverKind<SetField>({
  kind: setFieldKind.kind,
  tells: 'tracks',
  changes: ({ field }) => [field, 'unwritten'],
  wants({ trackId, field }, wants) {
    wants.tracks.add(trackId);
    wants.fields.add(field);
  },
  async store({ database, snapshot, loaded, t }, items) {
    const fields = new Map<number, Set<string>>();
    for (const { trackId, field } of items) fields.set(trackId, (fields.get(trackId) ?? new Set()).add(field));
    const inFiles = await knownFileFields(database, [...fields.keys()], t);
    const settings = await deskSettings();
    await storeTracks(
      database,
      [...fields].flatMap(([id, touched]) => {
        const track = snapshot.tracks.get(id);
        if (!track) return []; // taken out of the library by the same draft
        const held: Record<string, Held | null> = Object.fromEntries(
          [...touched].map((field) => [field, heldIn(snapshot, id, field) ?? null]),
        );
        const unwritten = unwrittenAfter(
          loaded.get(id)?.unwritten ?? [],
          [...touched],
          (field) => track.values[field] ?? null,
          inFiles.get(id) ?? null,
          (field) => held[field]?.origin === 'analysis',
          settings,
        );
        return [{ id, held, plain: { unwritten }, values: track.values }];
      }),
      t,
    );
  },
});
