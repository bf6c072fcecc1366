/** What a destination can store, from its description. */
import { storeTable } from '@early-set/core/sync/storeTable';
import { useDestinationKinds } from '../../data/hooks.ts';
import { Dialog } from '../../ui/Dialog.tsx';

interface Props {
  kind: string;
  open: boolean;
  onClose: () => void;
}

export function StoreDialog({ kind, open, onClose }: Props) {
  const { data } = useDestinationKinds();
  const about = data?.find((d) => d.kind === kind);
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={`What ${about?.name ?? 'it'} can store`}
      note="Everything else stays here, as it is."
    >
      {about && (
        <table className="w-full text-small">
          <tbody>
            {storeTable(about).map(([what, how]) => (
              <tr key={what} className="border-b border-hair align-top">
                <th scope="row" className="py-1 pr-3 text-left font-semibold">
                  {what}
                </th>
                <td className="py-1 text-dim">{how}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Dialog>
  );
}
