/** One item of a change in words: before and after, differences marked. */
import type { ChangeItem, EditList, WriteTags } from '@early-set/core/changes/items';
import { fieldOf } from '@early-set/core/fields/table';
import { several } from '../../data/actions.ts';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';

export function ItemWords({ item }: { item: ChangeItem }) {
  if (item.kind === 'set-field') {
    const before = textOf(item.field, item.before?.value),
      after = textOf(item.field, item.after?.value);
    const lock = before === after ? (item.after?.locked ? ' locked' : ' unlocked') : '';
    return (
      <p className="text-small break-words">
        <span className="text-dim">
          {fieldOf(item.field).label}
          {lock}
          {!lock && ': '}
        </span>
        {!lock && <BeforeAfter before={before} after={after} />}
      </p>
    );
  }
  if (item.kind === 'set-picture')
    return (
      <p className="text-small text-dim">
        {item.after ? (item.before ? 'another picture' : 'picture put in') : 'picture taken out'}
      </p>
    );
  if (item.kind === 'write-tags') return <FileWords item={item} />;
  if (item.kind === 'move-file')
    return (
      <p className="text-small break-words">
        <span className="text-dim">File: </span>
        <BeforeAfter before={item.before} after={item.after} />
      </p>
    );
  return <p className="text-small text-dim">{listWords(item.edit)}</p>;
}

/** Texts that share something are shown as one line, others one after the other. */
function BeforeAfter({ before, after }: { before: string; after: string }) {
  if (!before || !after)
    return (
      <>
        <s className="text-flare decoration-1">{before || 'empty'}</s> →{' '}
        <span className="text-kelp">{after || 'empty'}</span>
      </>
    );
  return <Difference before={before} after={after} />;
}

function FileWords({ item }: { item: WriteTags }) {
  const fields = Object.entries(item.fields);
  return (
    <p className="text-small break-words">
      <span className="text-dim">In the file: </span>
      {fields.map(([id, { after }], i) => (
        <span key={id}>
          {i > 0 && ', '}
          {fieldOf(id).label.toLowerCase()} {after.length ? `“${after.join('; ').slice(0, 80)}”` : 'taken out'}
        </span>
      ))}
      {item.picture && (
        <span>
          {fields.length > 0 && ', '}
          {item.picture.after ? 'picture' : 'picture taken out'}
        </span>
      )}
    </p>
  );
}

const NAMES: Record<string, string> = {
  name: 'name',
  parentId: 'crate it lies in',
  position: 'place among its neighbours',
  removed: 'removed',
  startsAt: 'start',
  kind: 'kind',
};

function listWords(edit: EditList['edit']): string {
  if (edit.op === 'exist') return edit.after ? `${edit.after.kind} made` : `${edit.before?.kind ?? 'list'} taken away`;
  if (edit.op === 'describe') {
    return Object.keys(edit.after)
      .map((k) => {
        const value = (from: typeof edit.after): string => String(from[k as keyof typeof from] ?? 'none');
        if (k === 'removed') return edit.after.removed ? 'put away' : 'brought back';
        return k === 'name' || k === 'startsAt'
          ? `${NAMES[k]}: ${value(edit.before)} → ${value(edit.after)}`
          : `another ${NAMES[k]}`;
      })
      .join(', ');
  }
  const put = edit.placements.filter((p) => !p.before).length,
    taken = edit.placements.filter((p) => !p.after).length,
    moved = edit.placements.length - put - taken;
  return [
    put && `${several(put, 'track')} put in`,
    taken && `${several(taken, 'track')} taken out`,
    moved && `${several(moved, 'track')} moved`,
  ]
    .filter(Boolean)
    .join(', ');
}
