/** Where no track is to be shown: since none matches, or since there is none. */
import { Link } from 'react-router';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';

export function Nothing({ narrowed, onClear }: { narrowed: boolean; onClear: () => void }) {
  return narrowed ? (
    <Empty title="No track matches">
      <p>No track meets all of these at once.</p>
      <Button className="mt-3" onClick={onClear}>
        Take all filters off
      </Button>
    </Empty>
  ) : (
    <Empty title="No tracks yet">
      <p>
        Choose a folder with music, or drop files on the Intake page. Nothing in the folder is changed by taking it in.
      </p>
      <Link to="/intake" className="mt-3 inline-block rounded-xs bg-main-fill px-3 py-1.5 font-semibold text-main-ink">
        Choose a folder
      </Link>
    </Empty>
  );
}
