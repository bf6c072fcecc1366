/** Folders of roots as a tree with counts; one can be chosen, and each may have a menu. */
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import { refKey, sameRef, type FileRef } from '@early-set/core/files/fileRef';
import { folderTree, type FolderCount, type FolderNode } from '@early-set/core/files/folderTree';
import { RightClick, type MenuItem } from './Menu.tsx';

interface Props {
  folders: readonly FolderCount[];
  chosen: FileRef | null;
  onChoose: (ref: FileRef | null, node: FolderNode) => void;
  /** What a right click offers. */
  menuOf?: (node: FolderNode) => MenuItem[];
  /** All folders are unfolded at first, not just the only root. */
  unfolded?: boolean;
}

const keysIn = (nodes: readonly FolderNode[]): string[] =>
  nodes.flatMap((node) => [refKey(node.ref), ...keysIn(node.children)]);

export function FolderTree({ folders, unfolded = false, ...more }: Props) {
  const tree = useMemo(() => folderTree(folders), [folders]);
  const [opened, setOpened] = useState<ReadonlySet<string> | null>(null);
  // What lies in the only root is what one wants to see of it.
  const open = opened ?? new Set(unfolded ? keysIn(tree) : tree.length === 1 ? [refKey(tree[0]!.ref)] : []);
  const toggle = (key: string): void =>
    setOpened(() => {
      const next = new Set(open);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  return (
    <ul>
      {tree.map((node) => (
        <Branch key={node.ref.rootId} node={node} depth={0} open={open} onToggle={toggle} {...more} />
      ))}
    </ul>
  );
}

interface BranchProps extends Omit<Props, 'folders' | 'unfolded'> {
  node: FolderNode;
  depth: number;
  open: ReadonlySet<string>;
  onToggle: (key: string) => void;
}

function Branch({ node, depth, open, onToggle, chosen, onChoose, menuOf }: BranchProps) {
  const key = refKey(node.ref),
    isOpen = open.has(key),
    isChosen = sameRef(chosen, node.ref);
  const Chevron = isOpen ? ChevronDown : ChevronRight;
  const line = (
    <button
      type="button"
      aria-pressed={isChosen}
      onClick={() => onChoose(isChosen ? null : node.ref, node)}
      className={`flex min-w-0 flex-1 items-center gap-2 py-[3px] text-left hover:text-buoy-text ${isChosen ? 'font-semibold' : ''}`}
    >
      <span className="min-w-0 flex-1 truncate" title={node.ref.path || node.name}>
        {node.name}
      </span>
      <span className="figures text-small text-dim">{node.count.toLocaleString('en-GB')}</span>
    </button>
  );
  return (
    <li>
      <div
        className={`flex items-center border-b border-line ${isChosen ? 'border-l-[3px] border-l-buoy' : ''}`}
        style={{ paddingLeft: depth * 10 }}
      >
        {node.children.length > 0 ? (
          <button
            type="button"
            aria-expanded={isOpen}
            aria-label={`Folders in ${node.name}`}
            onClick={() => onToggle(key)}
            className="flex w-4 shrink-0 justify-center text-dim hover:text-ink"
          >
            <Chevron size={13} />
          </button>
        ) : (
          <span className="w-4 shrink-0" />
        )}
        {menuOf ? <RightClick items={menuOf(node)}>{line}</RightClick> : line}
      </div>
      {isOpen && (
        <ul>
          {node.children.map((child) => (
            <Branch
              key={child.name}
              node={child}
              depth={depth + 1}
              {...{ open, onToggle, chosen, onChoose }}
              {...(menuOf ? { menuOf } : {})}
            />
          ))}
        </ul>
      )}
    </li>
  );
}
