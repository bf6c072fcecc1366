/** The allowed places, and a way down into them. */
import { ChevronUp, Folder } from 'lucide-react';
import { useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import type { Browsed, Place } from '@early-set/core/api/types';
import { useBrowse, usePlaces } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';

interface Looked {
  places: readonly Place[];
  /** Whole path of the folder that is shown. */
  here: string | null;
  folder: Browsed | undefined;
  error: Error | undefined;
}

/** What a browser shows. @param path null: the first place */
export function useFolder(open: boolean, path: string | null): Looked {
  const { data: places = [] } = usePlaces(open);
  const here = path ?? places[0]?.path ?? null;
  const { data, error } = useBrowse(open ? here : null);
  // Where it cannot be looked into, the one before is not taken for it.
  const folder = error ? undefined : data;
  return { places, here, folder, error };
}

interface Props extends Looked {
  onPath: (path: string) => void;
  /** What is said of the folder, below it. */
  children?: ReactNode;
}

export function FolderBrowser({ places, here, folder, error, onPath, children }: Props) {
  /** A path that is typed and not gone to yet. */
  const [typed, setTyped] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const shown = typed ?? here ?? '';
  // A folder that arrives while one is about to type is chosen as a whole: what is typed takes its place, and is not
  // mixed with it.
  useLayoutEffect(() => {
    if (typed === null && document.activeElement === field.current) field.current?.select();
  }, [typed, here]);
  const go = (path: string): void => {
    setTyped(null);
    onPath(path);
  };
  return (
    <div className="flex gap-4">
      <ul className="w-[170px] shrink-0" aria-label="Places">
        {places.map((p) => (
          <li key={p.path}>
            <button
              type="button"
              onClick={() => go(p.path)}
              title={p.path}
              aria-pressed={here === p.path}
              className={`w-full border-b border-hair px-2 py-1.5 text-left ${here?.startsWith(p.path) ? 'font-semibold' : ''} hover:bg-hair`}
            >
              {p.label}
            </button>
          </li>
        ))}
      </ul>
      <div className="min-w-0 flex-1">
        <div className="flex items-center gap-2 border-b border-line pb-1.5">
          <Button
            kind="quiet"
            aria-label="One folder up"
            disabled={!folder?.parent}
            onClick={() => go(folder!.parent!)}
          >
            <ChevronUp size={15} />
          </Button>
          <input
            aria-label="Path; Enter goes there"
            ref={field}
            value={shown}
            spellCheck={false}
            onBlur={() => (shown === '' || shown === here) && setTyped(null)}
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter' && e.currentTarget.value.trim()) go(e.currentTarget.value.trim());
            }}
            className="figures min-w-0 flex-1 rounded-xs border border-transparent bg-transparent px-1 py-0.5 text-small hover:border-line focus:border-tide-deep focus:bg-sheet"
          />
        </div>
        <ul className="h-[250px] overflow-auto" aria-label="Folders inside">
          {error && <li className="p-2 text-flare">{error.message}</li>}
          {folder?.folders.map((f) => (
            <li key={f.path}>
              <button
                type="button"
                onClick={() => go(f.path)}
                className="flex w-full items-center gap-2 border-b border-hair px-1.5 py-1.5 text-left hover:bg-hair"
              >
                <Folder size={14} className="shrink-0 text-tide-deep" />
                <span className="truncate">{f.name}</span>
              </button>
            </li>
          ))}
          {folder?.folders.length === 0 && <li className="p-2 text-dim">No folders inside.</li>}
        </ul>
        {children}
      </div>
    </div>
  );
}
