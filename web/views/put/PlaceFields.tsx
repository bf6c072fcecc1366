/** Where files are put: a library folder, a folder in it, and what they are called there. */
import type { ReactNode } from 'react';
import type { RootLine } from '@early-set/core/api/types';
import { PUT_NAMES, type PutNames } from '@early-set/core/files/put';
import { useFolders } from '../../data/hooks.ts';
import { INPUT } from '../../ui/form/fields.tsx';
import { PUT_NAME_WORDS } from './words.ts';

interface PlaceProps {
  /** Those that can be written to. */
  roots: readonly RootLine[];
  rootId: number | null;
  onRoot: (id: number) => void;
  /** Below the library folder; empty for its top. */
  path: string;
  onPath: (path: string) => void;
  pathLabel?: string;
  /** Labels stand over their fields. */
  stacked?: boolean;
}

export function PlaceFields(props: PlaceProps) {
  const { roots, rootId, onRoot, path, onPath, pathLabel = 'Folder in it', stacked = false } = props;
  const { data: folders = [] } = useFolders(true);
  return (
    <>
      <Labelled label="Library folder" stacked={stacked}>
        <select value={rootId ?? ''} onChange={(e) => onRoot(Number(e.target.value))} className={INPUT}>
          {roots.map((r) => (
            <option key={r.id} value={r.id}>
              {r.label}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label={pathLabel} stacked={stacked}>
        <input
          value={path}
          list="put-folders"
          maxLength={2000}
          placeholder="none: at the top"
          onChange={(e) => onPath(e.target.value)}
          className={INPUT}
        />
        <datalist id="put-folders">
          {folders
            .filter((f) => f.ref.rootId === rootId && f.ref.path !== '')
            .map((f) => (
              <option key={f.ref.path} value={f.ref.path} />
            ))}
        </datalist>
      </Labelled>
    </>
  );
}

interface NamesProps {
  names: PutNames;
  onNames: (names: PutNames) => void;
  stacked?: boolean;
}

export const NamesField = ({ names, onNames, stacked = false }: NamesProps) => (
  <Labelled label="File names" stacked={stacked}>
    <select value={names} onChange={(e) => onNames(e.target.value as PutNames)} className={INPUT}>
      {PUT_NAMES.map((id) => (
        <option key={id} value={id}>
          {PUT_NAME_WORDS[id]}
        </option>
      ))}
    </select>
  </Labelled>
);

const Labelled = ({ label, stacked, children }: { label: string; stacked: boolean; children: ReactNode }) => (
  <label className={stacked ? 'flex flex-col gap-1' : 'flex items-center gap-2'}>
    <span className={stacked ? 'text-small text-dim' : 'w-[110px] shrink-0'}>{label}</span>
    {children}
  </label>
);
