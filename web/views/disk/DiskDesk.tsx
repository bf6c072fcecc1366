/** What the pages of the Disk stage share: what to look at on the left, a panel on the right, a head over the rows. */
import type { ReactNode } from 'react';
import { StageLayout } from '../../app/StageLayout.tsx';
import { LookAt } from './LookAt.tsx';

export const DiskDesk = ({ panel, children }: { panel: ReactNode; children: ReactNode }) => (
  <StageLayout
    stage="disk"
    middleMin={460}
    left={{ what: 'list on the left', width: 214, min: 160, max: 380, content: <LookAt /> }}
    right={{ what: 'inspector', width: 268, min: 220, max: 520, content: panel }}
  >
    {children}
  </StageLayout>
);

interface HeadProps {
  title: string;
  /** How many, in words. */
  count: ReactNode;
  testId: string;
  /** What can be done, at the right. */
  children?: ReactNode;
}

export const DiskHead = ({ title, count, testId, children }: HeadProps) => (
  <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-paper px-3.5 py-2">
    <h1 className="heading text-[19px]">{title}</h1>
    <span className="figures text-small text-dim" data-testid={testId}>
      {count}
    </span>
    <span className="flex-1" />
    {children}
  </div>
);
