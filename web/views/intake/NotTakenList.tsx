/** Files of a root that were not taken, with the reason. */
import { useMemo, useState } from 'react';
import type { NotTaken, RootLine } from '@early-set/core/api/types';
import { Button } from '../../ui/Button.tsx';
import { ArchiveDialog } from './ArchiveDialog.tsx';
import { several } from '../../data/actions.ts';
import { useNotTaken } from '../../data/hooks.ts';
import { ReadGrid, type ReadColumn } from '../../ui/grid/ReadGrid.tsx';
import { bytes } from '../../ui/format.ts';

const columnsOf = (lookInto: (path: string) => void): ReadColumn<NotTaken>[] => [
  {
    id: 'path',
    label: 'File',
    width: 220,
    grow: 1,
    value: (r) => r.path,
    cell: (r) => <span title={r.path}>{r.path}</span>,
  },
  {
    id: 'reason',
    label: 'Why',
    width: 220,
    grow: 1,
    value: (r) => r.reason,
    cell: (r) => <Why refused={r} lookInto={lookInto} />,
  },
  { id: 'size', label: 'Size', width: 84, figures: true, value: (r) => r.fileSize, cell: (r) => bytes(r.fileSize) },
];

const Why = ({ refused, lookInto }: { refused: NotTaken; lookInto: (path: string) => void }) => {
  const { code, reason, path } = refused;
  return (
    <span title={reason} className={code === 'not-music' ? 'text-dim' : 'text-sodium-text'}>
      {reason}
      {/\.zip$/i.test(path) && (
        <Button kind="link" className="ml-2" aria-label={`Look into ${path}`} onClick={() => lookInto(path)}>
          Look into it…
        </Button>
      )}
    </span>
  );
};

export function NotTakenList({ root }: { root: RootLine }) {
  const { data: refused = [] } = useNotTaken(root.id);
  const [inHand, setInHand] = useState<string | null>(null);
  const columns = useMemo(() => columnsOf(setInHand), []);
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
            columns={columns}
            idOf={(r) => r.path}
            tallest={400}
          />
        </div>
      )}
      <ArchiveDialog root={root} path={inHand} onClose={() => setInHand(null)} />
    </div>
  );
}
