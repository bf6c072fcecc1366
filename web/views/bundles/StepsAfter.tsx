/** What is left to do after a bundle was read here; each step knows by itself whether it is done. */
import { Check, Circle } from 'lucide-react';
import { Link } from 'react-router';
import type { BundleStep } from '@early-set/core/api/bundles';
import { perform } from '../../data/actions.ts';
import { remove } from '../../data/api.ts';
import { useBundleSteps } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { dayAndTime } from '../../ui/format.ts';

const STEPS: Record<BundleStep['step'], { label: string; to: string }> = {
  folders: { label: 'Library folders are here', to: '/intake' },
  files: { label: 'Files are found', to: '/disk' },
  measured: { label: 'Tracks are measured', to: '/check' },
  destinations: { label: 'Destinations and sticks are here', to: '/handover' },
  backup: { label: 'A first backup is made', to: '/backups' },
};

export function StepsAfter() {
  const { data, mutate } = useBundleSteps();
  if (!data?.read) return null;
  const { read, steps } = data;
  const open = steps.filter(({ done, total }) => done < total).length;
  return (
    <aside
      aria-label="After reading"
      className="w-[300px] shrink-0 overflow-y-auto border-l border-line bg-paper p-4 narrow:w-auto narrow:border-l-0"
    >
      <h2 className="heading text-[17px]">{open === 0 ? 'All is done' : 'What is still to do'}</h2>
      <p className="mt-0.5 mb-2 text-small text-dim">
        {read.name} was read on {dayAndTime(read.at)}.
      </p>
      <ol>
        {steps.map(({ step, done, total }) => {
          const ready = done >= total;
          return (
            <li key={step} className="flex items-start gap-2 border-b border-hair py-1.5">
              {ready ? (
                <Check size={15} aria-label="Done" className="mt-0.5 shrink-0 text-kelp" />
              ) : (
                <Circle size={15} aria-label="Open" className="mt-0.5 shrink-0 text-dim" />
              )}
              <span className="min-w-0 flex-1">
                <Link to={STEPS[step].to} className="font-semibold hover:text-buoy-text hover:underline">
                  {STEPS[step].label}
                </Link>
                {total > 1 && (
                  <span className="figures block text-small text-dim">
                    {done.toLocaleString('en-GB')} of {total.toLocaleString('en-GB')}
                  </span>
                )}
              </span>
            </li>
          );
        })}
      </ol>
      <Button
        className="mt-3"
        onClick={() => void perform(remove('/bundles/steps')).then(() => mutate({ read: null, steps: [] }))}
      >
        Hide this list
      </Button>
    </aside>
  );
}
