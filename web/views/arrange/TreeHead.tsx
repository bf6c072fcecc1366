/** The name of a part of the tree of lists, with what makes a new one. */
import { ClipboardPaste, FolderSymlink, ListFilterPlus, Plus } from 'lucide-react';
import type { ReactNode } from 'react';
import type { ListLine } from '@early-set/core/api/types';
import { KIND_WORDS } from '../../data/kindWords.ts';

export const HEADS: Record<ListLine['kind'], string> = {
  crate: 'Crates',
  playlist: 'Playlists',
  hour: 'Hours',
  clock: 'Format clocks',
};

/** What the small buttons beside the names do. */
export interface Makers {
  make: Record<ListLine['kind'], () => void>;
  mirror: () => void;
  rule: () => void;
  paste: () => void;
}

export function TreeHead({ kind, makers }: { kind: ListLine['kind']; makers: Makers }) {
  return (
    <div className="flex items-center">
      <h3 className="flex-1 text-small font-semibold text-dim">{HEADS[kind]}</h3>
      {kind === 'crate' && (
        <>
          <HeadButton label="New folder mirror" onClick={makers.mirror}>
            <FolderSymlink size={14} />
          </HeadButton>
          <HeadButton label="New self-filling crate" onClick={makers.rule}>
            <ListFilterPlus size={14} />
          </HeadButton>
        </>
      )}
      {kind === 'playlist' && (
        <HeadButton label="Paste a list" title="Paste a list, or take one from a file" onClick={makers.paste}>
          <ClipboardPaste size={13} />
        </HeadButton>
      )}
      <HeadButton label={kind === 'hour' ? 'Make hours' : `New ${KIND_WORDS[kind]}`} onClick={makers.make[kind]}>
        <Plus size={14} />
      </HeadButton>
    </div>
  );
}

/** A small button beside the name of a part of the tree. */
function HeadButton({
  label,
  title = label,
  onClick,
  children,
}: {
  label: string;
  title?: string;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={title}
      onClick={onClick}
      className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
    >
      {children}
    </button>
  );
}
