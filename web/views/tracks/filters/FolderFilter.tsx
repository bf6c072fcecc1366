/** The folders of all roots: a click narrows to one and all below it; one can be moved, renamed or copied. */
import { useState } from 'react';
import { sameRef, type FileRef } from '@early-set/core/files/fileRef';
import type { FolderCount, FolderNode } from '@early-set/core/files/folderTree';
import { FolderTree } from '../../../ui/FolderTree.tsx';
import { PutDialog } from '../../put/PutDialog.tsx';

interface Props {
  folders: readonly FolderCount[];
  chosen: FileRef | null;
  onChoose: (ref: FileRef | null) => void;
}

export function FolderFilter({ folders, chosen, onChoose }: Props) {
  /** The folder that is to be moved or copied. */
  const [putting, setPutting] = useState<FolderNode | null>(null);
  if (folders.length === 0) return null;
  return (
    <section className="mt-4" aria-label="Folder">
      <h3 className="mb-1 font-semibold">Folder</h3>
      <FolderTree
        folders={folders}
        chosen={chosen}
        onChoose={(ref) => onChoose(ref)}
        menuOf={(node) => {
          const isChosen = sameRef(chosen, node.ref);
          return [
            {
              label: isChosen ? 'Show all folders' : 'Show only this folder',
              run: () => onChoose(isChosen ? null : node.ref),
            },
            { label: 'Move, rename or copy…', run: () => setPutting(node), disabled: node.ref.path === '' },
          ];
        }}
      />
      {putting && (
        <PutDialog
          selection={{ where: { inFolder: putting.ref, below: true }, except: [] }}
          whose={`the folder ${putting.name} and all below it`}
          folder={putting.ref}
          onClose={() => setPutting(null)}
        />
      )}
    </section>
  );
}
