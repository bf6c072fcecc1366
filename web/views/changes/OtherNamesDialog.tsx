/** May a file be parted from its other names (hard links), where a tag does not fit in place? */
import type { Applied } from '@early-set/core/api/types';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { openOtherNames, useOtherNames } from '../../data/otherNames.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

export function OtherNamesDialog() {
  const asked = useOtherNames();
  const close = (): void => openOtherNames(null);
  const write = (changeSetId: number): void => {
    close();
    void change(post<Applied>(`/changes/${changeSetId}/part`));
  };
  return (
    <Dialog
      open={asked !== null}
      onClose={close}
      title={asked?.files === 1 ? 'This file has other names' : 'These files have other names'}
      note={asked ? `Hard links: ${several(asked.files, 'file')} not written yet.` : ''}
    >
      {asked && (
        <>
          <p>
            The tag does not fit in place, so it needs a new file under this name. The other names then keep the old
            file with its old tags, and the sound takes up space on the drive twice.
          </p>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={close}>Leave as {asked.files === 1 ? 'it is' : 'they are'}</Button>
            <Button kind="main" onClick={() => write(asked.changeSetId)}>
              Write {asked.files === 1 ? 'a new file' : `${several(asked.files, 'new file')}`}
            </Button>
          </div>
        </>
      )}
    </Dialog>
  );
}
