import { Link } from 'react-router';
import type { Stage } from '../../app/stages.ts';
import { useOverview } from '../../data/hooks.ts';
import { several } from '../../data/actions.ts';
import { Empty } from '../../ui/Empty.tsx';

/** A stage that is not built yet: one line on what will be there, and a link to what it counts. */
export function LaterView({ stage }: { stage: Stage }) {
  const { data } = useOverview();
  const missing = data?.stages.disk.count ?? 0;
  return (
    <Empty main title={`${stage.label} is not here yet`}>
      <p>{stage.later}</p>
      {stage.id === 'disk' && missing > 0 && (
        <p className="mt-3">
          <Link className="font-semibold text-buoy-text hover:underline" to="/tracks?needs=missing">
            See the {several(missing, 'missing file')}
          </Link>
        </p>
      )}
    </Empty>
  );
}
