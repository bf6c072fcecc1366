/** One folder that was taken in: what it holds, whether its drive is there, and what can be done about it. */
import { Ellipsis, RefreshCw, Unplug } from 'lucide-react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { Applied, RootLine } from '@early-set/core/api/types';
import { allOf, type Condition } from '@early-set/core/conditions/condition';
import { change, complain, perform } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { usePresets } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Toggle } from '../../ui/Toggle.tsx';
import { Menu } from '../../ui/Menu.tsx';
import { dayAndTime } from '../../ui/format.ts';
import { sheetAddress } from '../tracks/filters/filters.ts';

interface Props {
  root: RootLine;
  chosen: boolean;
  onChoose: () => void;
  /** Its drive came back in another place. */
  onElsewhere: () => void;
}

export function RootCard({ root, chosen, onChoose, onElsewhere }: Props) {
  /** The files stay where they are; undo brings its tracks back with lists and history. */
  const remove = (): void => {
    post<Applied | null>(`/roots/${root.id}/remove`).then((made) => {
      if (made) void change(Promise.resolve(made));
      else toast(`${root.label} is removed from the library`);
    }, complain);
  };
  const inRoot: Condition = { inFolder: { rootId: root.id, path: '' }, below: true };
  const missing = allOf(inRoot, { field: 'fileState', test: 'one of', values: ['missing'] });
  return (
    <li className={`mb-2 border bg-paper ${chosen ? 'border-buoy' : 'border-line'}`}>
      <button type="button" aria-pressed={chosen} onClick={onChoose} className="block w-full px-3 pt-2.5 text-left">
        <span className="block font-semibold">{root.label}</span>
        <span className="block truncate text-tiny text-dim" title={root.path}>
          {root.path}
        </span>
      </button>
      <p className="px-3 py-1.5 text-small">
        <Link to={sheetAddress(`All of ${root.label}`, inRoot)} className="hover:underline">
          <b className="figures">{root.tracks}</b> tracks
        </Link>
        ,{' '}
        <button type="button" onClick={onChoose} title="List them" className="hover:underline">
          <b className="figures">{root.notTaken}</b> not taken
        </button>
        {root.missing > 0 && (
          <>
            ,{' '}
            <Link to={sheetAddress(`Missing files in ${root.label}`, missing)} className="text-flare hover:underline">
              <b className="figures">{root.missing}</b> missing
            </Link>
          </>
        )}
      </p>
      {root.awaySince && <DriveAway root={root} onElsewhere={onElsewhere} />}
      {root.purpose === 'library' && (
        <div className="flex items-center gap-2 border-t border-hair px-3 py-1.5 text-small">
          <span className="flex-1" title="What is new, changed or gone there is found by itself, once it is whole">
            Watch this folder
            {root.watchTrouble && <span className="block text-flare">Cannot be watched: {root.watchTrouble}</span>}
          </span>
          <Toggle
            label={`Watch ${root.label}`}
            on={root.watch}
            onChange={(watch) => void perform(post(`/roots/${root.id}/watch`, { watch }))}
          />
        </div>
      )}
      {root.purpose === 'library' && <NewFiles root={root} />}
      <div className="flex items-center border-t border-hair px-2 py-1">
        <span className="flex-1 pl-1 text-tiny text-dim">
          {root.purpose === 'destination'
            ? 'Destination; written, not read'
            : root.scannedAt
              ? `Read ${dayAndTime(root.scannedAt)}`
              : 'Not read yet'}
        </span>
        {root.purpose === 'library' && (
          <Button
            kind="quiet"
            onClick={() => void perform(post(`/roots/${root.id}/scan`), 'Looking for new, changed and missing files')}
          >
            <RefreshCw size={13} />
            Scan again
          </Button>
        )}
        <Menu
          label={`More for ${root.label}`}
          items={[{ label: 'Remove from the library', run: remove, danger: true }]}
        >
          <Button kind="quiet" aria-label={`More for ${root.label}`}>
            <Ellipsis size={13} />
          </Button>
        </Menu>
      </div>
    </li>
  );
}

/** What is done to each file that a scan takes in here. */
function NewFiles({ root }: Pick<Props, 'root'>) {
  const { data: presets = [] } = usePresets();
  const set = (wish: { presetId: number | null } | { putByRules: boolean }): void =>
    void perform(post(`/roots/${root.id}/new-files`, wish));
  return (
    <div className="flex flex-col gap-1.5 border-t border-hair px-3 py-1.5 text-small">
      <label className="flex items-center gap-2">
        <span
          className="shrink-0"
          title="Fields are cleaned by the steps of this preset; what they ask is left as it is"
        >
          Clean new files with
        </span>
        <select
          aria-label={`Clean new files of ${root.label} with`}
          value={root.presetId ?? ''}
          onChange={(e) => set({ presetId: e.target.value ? Number(e.target.value) : null })}
          className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1 py-0.5"
        >
          <option value="">nothing</option>
          {presets.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </label>
      <div className="flex items-center gap-2">
        <span className="flex-1" title="To where the naming rules want them, under Disk, Out of place">
          Move new files by the naming rules
        </span>
        <Toggle
          label={`Move new files of ${root.label} by the naming rules`}
          on={root.putByRules}
          onChange={(putByRules) => set({ putByRules })}
        />
      </div>
    </div>
  );
}

/** Nothing was marked as missing: what is asked is whether the drive is away, elsewhere, or the files gone. */
function DriveAway({ root, onElsewhere }: Pick<Props, 'root' | 'onElsewhere'>) {
  return (
    <div role="status" className="border-t border-hair bg-chosen px-3 py-2 text-small">
      <p className="flex items-center gap-1.5 font-semibold text-sodium-text">
        <Unplug size={14} className="shrink-0" />
        Drive not there
      </p>
      <p className="mt-0.5">
        Since {dayAndTime(root.awaySince!)}. No track was marked as missing. Connect it and scan again, or say where it
        is now.
      </p>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <Button onClick={onElsewhere}>It is somewhere else…</Button>
        <Button
          onClick={() =>
            void perform(
              post(`/roots/${root.id}/scan`, { lossAccepted: true }),
              'What is not there will be marked as missing',
            )
          }
        >
          The files are gone
        </Button>
      </div>
    </div>
  );
}
