import type { Stage } from '../../app/stages.ts';
import { Empty } from '../../ui/Empty.tsx';

/** A stage that is not built yet: one line on what will be there. */
export function LaterView({ stage }: { stage: Stage }) {
  return (
    <Empty main title={`${stage.label} is not here yet`}>
      <p>{stage.later}</p>
    </Empty>
  );
}
