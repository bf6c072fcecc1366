/** Below the head of a mirrored crate: which folder it follows, and what can be done about that. */
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { Mirrored } from '@early-set/core/api/lists';
import type { Applied, ListContents } from '@early-set/core/api/types';
import { mirroredPath, mirrorInWords, readMirror } from '@early-set/core/arrange/mirror';
import { useCommands } from '../../../commands/commands.ts';
import { change, complain } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useLists, useRoots } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { sheetAddress } from '../../tracks/filters/filters.ts';
import { MirrorDialog, type MirrorAsk } from './MirrorDialog.tsx';

export function MirrorBar({ list }: { list: ListContents }) {
  const { data: lists = [] } = useLists();
  const { data: roots = [] } = useRoots();
  const [ask, setAsk] = useState<MirrorAsk | null>(null);
  const { info, id } = list;
  const topId = info.mirrorOf ?? id;
  const top = lists.find((l) => l.id === topId);
  const settings = readMirror(top?.mirror ?? info.mirror);
  const path = mirroredPath(info.rule) ?? '';
  const root = roots.find((r) => r.id === settings?.rootId)?.label ?? '';
  const isTop = topId === id;
  const update = async (): Promise<void> => {
    try {
      const made = await post<Mirrored & Partial<Applied>>(`/mirrors/${topId}/update`);
      if (made.changeSetId === undefined) toast(`Up to date: ${mirrorInWords(made.report)}`);
      else await change(Promise.resolve(made as Applied & Mirrored));
    } catch (error) {
      complain(error);
    }
  };
  const edit = (): void => setAsk({ listId: topId, name: top?.name ?? info.name, settings });
  const apart = (): void => void change(post<Applied>(`/mirrors/${topId}/take-apart`));
  useCommands([
    {
      id: 'mirror-update',
      label: `Update the folder mirror ${top?.name ?? ''}`,
      group: 'Arrange',
      run: () => void update(),
    },
    { id: 'mirror-settings', label: `Settings of the folder mirror ${top?.name ?? ''}`, group: 'Arrange', run: edit },
    { id: 'mirror-apart', label: `Take the folder mirror ${top?.name ?? ''} apart`, group: 'Arrange', run: apart },
  ]);
  const place = [root, ...path.split('/').filter(Boolean)].join(' / ');
  return (
    <div className="flex shrink-0 items-center gap-3 border-b border-line bg-paper px-3.5 py-1.5 text-small">
      <p className="min-w-0 flex-1 truncate" title={place} data-testid="mirrored">
        <span className="text-dim">Folder mirror: </span>
        {place}
        {isTop && settings && (
          <span className="text-dim">
            {' '}
            · {settings.follow === 'each scan' ? 'follows each scan' : 'updated by hand'}
          </span>
        )}
      </p>
      <Link
        className="text-[13px] font-semibold whitespace-nowrap text-buoy-text hover:underline"
        to={sheetAddress(info.name, { inLists: [id] })}
      >
        Open in Tracks
      </Link>
      <Button kind="link" onClick={edit}>
        Settings
      </Button>
      <Button kind="link" onClick={() => void update()}>
        Update now
      </Button>
      <Button kind="link" onClick={apart} title="Makes its crates plain ones with what they hold now">
        Take apart
      </Button>
      <MirrorDialog ask={ask} onClose={() => setAsk(null)} />
    </div>
  );
}
