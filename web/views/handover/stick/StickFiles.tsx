/** What will be on a stick, list by list: each file with how it is made, and the list file. */
import type { StickAnswer, StickFileLine, StickLine } from '@early-set/core/api/stick';
import { useRemembered } from '../../../data/remembered.ts';
import { several } from '../../../data/actions.ts';
import { Empty } from '../../../ui/Empty.tsx';
import { bytes } from '../../../ui/format.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { Button } from '../../../ui/Button.tsx';
import { RoomBar } from './RoomBar.tsx';
import { STATE_WORDS } from './words.ts';

interface Props {
  stick: StickLine;
  answer: StickAnswer;
  onList: (listId: string) => void;
  /** Chooses what goes there. */
  onWhat: () => void;
}

const columnsFor = (folder: string): GridColumn[] => [
  { id: 'path', label: folder, width: 250, grow: 1, className: 'figures font-semibold' },
  { id: 'artist', label: 'Artist', width: 130, grow: 0.5 },
  { id: 'how', label: 'How', width: 150, grow: 0.4 },
  { id: 'bytes', label: 'Size', width: 76, className: 'figures text-right' },
];

/** Items are called by their IDs. */
const PLAYOUT_COLUMNS: GridColumn[] = [
  { id: 'path', label: 'Item', width: 92, className: 'figures font-semibold' },
  { id: 'title', label: 'Title', width: 200, grow: 1 },
  ...columnsFor('').slice(1),
];

export function StickFiles({ stick, answer, onList, onWhat }: Props) {
  const [widths, keepWidths] = useRemembered<Record<string, number>>('stick-widths', {});
  const { lists, listId, files, preview } = answer;
  const list = lists.find((l) => l.id === listId);
  const { chosen, choose, all, none } = useRowChoice(files.map((f) => f.path));
  const onKey = gridKeys({ count: files.length, focus: chosen.focus, choose, all, none });
  if (!list)
    return (
      <Empty title={`Nothing goes to ${stick.name} yet`}>
        <p>
          Choose {stick.isPlayout ? 'hours, lists' : 'lists'}, dates or folders. What they become there is shown before
          anything is written.
        </p>
        <Button kind="main" onClick={onWhat}>
          Choose what goes there…
        </Button>
      </Empty>
    );
  return (
    <>
      <RoomBar answer={answer} />
      <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
        <label className="flex min-w-0 items-center gap-2">
          <span className="text-small text-dim">List</span>
          <select
            value={list.id}
            onChange={(e) => onList(e.target.value)}
            className="h-[26px] max-w-[340px] rounded-xs border border-line bg-sheet px-2"
          >
            {lists.map(({ id, name, place, files: n, changes }) => (
              <option key={id} value={id}>
                {[...place, name].join(' / ')} ({n}
                {changes > 0 ? `, ${changes} to write` : ''})
              </option>
            ))}
          </select>
        </label>
        <span className="text-small text-dim">
          {several(lists.length, 'list')}, {several(answer.counts.files, stick.isPlayout ? 'item' : 'file')}
        </span>
        {list.refused > 0 && (
          <span className="text-small text-sodium-text" data-testid="list-refused">
            {several(list.refused, 'track')} of this list would be refused: not written
          </span>
        )}
      </div>
      <div className="min-h-[120px] flex-1">
        <Grid
          id="stick"
          label={`Files of ${list.name} on ${stick.name}`}
          columns={(stick.isPlayout ? PLAYOUT_COLUMNS : columnsFor(`On ${stick.name}, in ${list.name}`)).map((c) => ({
            ...c,
            width: widths[c.id] ?? c.width,
          }))}
          onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
          count={files.length}
          row={(i) => files[i]}
          idOf={(f) => f.path}
          data={(f) => ({ 'data-file': f.path, 'data-state': f.state })}
          cell={(file, column) => <Cell file={file} column={column} plain={stick.isPlayout} />}
          chosen={chosen}
          onChoose={choose}
          onKey={onKey}
        />
      </div>
      {preview && (
        <section aria-label={preview.path} className="shrink-0 border-t border-line bg-paper px-3.5 py-2.5">
          <h2 className="figures mb-1 text-small font-semibold text-dim">{preview.path}</h2>
          <pre
            tabIndex={0}
            className="figures max-h-[132px] overflow-auto border border-line bg-sheet px-2.5 py-1.5 text-small text-dim"
          >
            {preview.text}
          </pre>
        </section>
      )}
    </>
  );
}

/** @param plain where all are converted, that is nothing to point at */
function Cell({ file, column, plain }: { file: StickFileLine; column: string; plain: boolean }) {
  const { path, title, artist, bytes: size } = file;
  if (column === 'path') return <span title={path}>{path.slice(path.lastIndexOf('/') + 1)}</span>;
  if (column === 'title') return title;
  if (column === 'artist') return artist;
  if (column === 'bytes') return size === 0 ? <span className="text-dim">–</span> : bytes(size);
  const [words, tone] = howText(file);
  return (
    <span className={plain ? '' : tone} title={words}>
      {words}
    </span>
  );
}

function howText({ state, how, converted, levelled, cut }: StickFileLine): [words: string, tone: string] {
  const known = STATE_WORDS[state];
  if (known !== null) return [known, state === 'same' ? 'text-dim' : ''];
  const words = `${how}${levelled ? ', levelled' : ''}${cut ? ', name cut' : ''}`;
  return [words, cut ? 'text-sodium-text' : converted ? 'text-buoy-text' : ''];
}
