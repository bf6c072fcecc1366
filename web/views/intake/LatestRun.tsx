/** The latest run of a kind on the page that began it: how far it is, or why it did not do what it should. */
import type { RunKind } from '@early-set/core/api/types';
import { RunLine } from '../../app/Shell.tsx';
import { perform } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useRuns } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';

export function LatestRun({ kind }: { kind: RunKind }) {
  const { data: runs = [] } = useRuns();
  const run = runs.find((one) => one.kind === kind);
  if (run?.state === 'running')
    return (
      <section aria-label="Running" className="shrink-0 border-b border-hair bg-paper px-4">
        <RunLine run={run} />
      </section>
    );
  if (run?.state !== 'failed') return null;
  return (
    <p
      role="alert"
      className="flex shrink-0 items-baseline gap-3 border-b border-l-[3px] border-b-hair border-l-sodium bg-paper px-4 py-2 text-small"
    >
      <span className="min-w-0 flex-1">
        {run.title}: {run.reason}
      </span>
      {run.canRetry && (
        <Button kind="link" onClick={() => void perform(post(`/runs/${run.id}/retry`))}>
          Try again
        </Button>
      )}
    </p>
  );
}
