/** Files of a root that were not taken, with the reason. */
import type { NotTaken, RootLine } from '@early-set/core/api/types';
import { several } from '../../data/actions.ts';
import { useNotTaken } from '../../data/hooks.ts';
import { ReadGrid, type ReadColumn } from '../../ui/grid/ReadGrid.tsx';
import { bytes } from '../../ui/format.ts';

const REFUSED: ReadColumn<NotTaken>[] = [
  {
    id: 'path',
    label: 'File',
    width: 220,
    grow: 1,
    value: (r) => r.path,
    cell: (r) => <span title={r.path}>{r.path}</span>,
  },
  { id: 'reason', label: 'Why', width: 220, grow: 1, value: (r) => r.reason, cell: (r) => <Why refused={r} /> },
  { id: 'size', label: 'Size', width: 84, figures: true, value: (r) => r.fileSize, cell: (r) => bytes(r.fileSize) },
];

const Why = ({ refused: { code, reason } }: { refused: NotTaken }) => (
  <span title={reason} className={code === 'not-music' ? 'text-dim' : 'text-sodium-text'}>
    {reason}
  </span>
);

export function NotTakenList({ root }: { root: RootLine }) {
  const { data: refused = [] } = useNotTaken(root.id);
  return (
    <div className="px-5 py-4">
      <h2 className="heading text-[16px]">
        {refused.length
          ? `${several(refused.length, 'file')} of ${root.label} not taken`
          : `Everything in ${root.label} was taken`}
      </h2>
      {refused.length > 0 && (
        <div className="mt-2 border border-line">
          <ReadGrid
            id="not-taken"
            label={`Files of ${root.label} that were not taken`}
            rows={refused}
            columns={REFUSED}
            idOf={(r) => r.path}
            tallest={400}
          />
        </div>
      )}
    </div>
  );
}
