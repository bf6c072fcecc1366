/** Bundles: the library for another computer, and one of another computer for here. */
import { useSearchParams } from 'react-router';
import { Segmented } from '../../ui/Segmented.tsx';
import { LatestRun } from '../intake/LatestRun.tsx';
import { MakeBundle } from './MakeBundle.tsx';
import { ReadBundle } from './ReadBundle.tsx';
import { StepsAfter } from './StepsAfter.tsx';

const PARTS = [
  ['make', 'Make a bundle'],
  ['read', 'Read a bundle'],
] as const;

export function BundlesView() {
  const [params, setParams] = useSearchParams();
  const part = params.get('part') === 'read' ? 'read' : 'make';
  return (
    <div className="flex h-full narrow:block narrow:overflow-y-auto">
      <section aria-label="Bundles" className="flex min-w-0 flex-1 flex-col bg-sheet">
        <header className="flex min-h-[50px] shrink-0 items-center gap-3 border-b border-line bg-paper px-4">
          <h1 className="heading text-[19px]">Bundles</h1>
          <Segmented
            label="What to do"
            value={part}
            choices={PARTS}
            onChoose={(next) => setParams({ part: next }, { replace: true })}
          />
          <span className="min-w-0 flex-1 truncate text-small text-dim">
            The library with all that is known of it, for another computer
          </span>
        </header>
        <LatestRun kind="bundle" />
        <div className="min-h-0 flex-1 overflow-auto p-4">{part === 'make' ? <MakeBundle /> : <ReadBundle />}</div>
      </section>
      <StepsAfter />
    </div>
  );
}
