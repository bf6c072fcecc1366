/** Doing things: every change answers with a toast that can take it back. */
import { toast } from 'sonner';
import type { Applied } from '@early-set/core/api/types';
import { ApiError, post } from './api.ts';
import { forgetAsked } from './asked.ts';
import { askOtherNames } from './otherNames.ts';

/** A number with its word: "1 track", "1,204 tracks". */
export const several = (n: number, one: string, many = `${one}s`): string =>
  `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;

/** Shows an error as its sentence. */
export function complain(error: unknown): void {
  if (error instanceof DOMException && error.name === 'AbortError') return;
  toast.error(error instanceof ApiError ? error.message : 'Something went wrong on this page; reloading it may help');
}

/** Takes something back: what was asked for before counts no more. */
export function takeBack(path: string, body: object = {}): Promise<Applied> {
  forgetAsked();
  return post<Applied>(path, body);
}

/** Runs a change; says what was done, with Undo, or what went wrong. Returns undefined on failure. */
export async function change<T extends Applied>(request: Promise<T>, say?: string): Promise<T | undefined> {
  try {
    const applied = await request;
    announce(applied, say);
    return applied;
  } catch (error) {
    complain(error);
    return undefined;
  }
}

/** What happened in files besides, or that it goes on; nothing where files are all that the change is about. */
function filesInWords({ files, done }: Applied): string {
  if (!files) return '';
  if (files.waiting) return `${several(files.waiting, 'file is', 'files are')} being written`;
  return files.written && files.written < done ? `Written to ${several(files.written, 'file')}` : '';
}

function announce(applied: Applied, say?: string): void {
  askOtherNames(applied);
  const title = say ?? applied.title;
  const left = applied.conflicts.length;
  toast(title, {
    description:
      [
        left ? `${several(left, 'line was', 'lines were')} left as it was: ${applied.conflicts[0]!.reason}` : '',
        filesInWords(applied),
      ]
        .filter(Boolean)
        .join('. ') || undefined,
    action: { label: 'Undo', onClick: () => void change(takeBack(`/changes/${applied.changeSetId}/undo`)) },
    duration: 6000,
  });
}

/** Ctrl+Z and Ctrl+Shift+Z. */
export async function undoLatest(redo: boolean): Promise<void> {
  try {
    const applied = await takeBack('/undo', { redo });
    askOtherNames(applied);
    toast(applied.title, {
      description: applied.conflicts.length ? applied.conflicts[0]!.reason : filesInWords(applied) || undefined,
      duration: 4000,
    });
  } catch (error) {
    if (error instanceof ApiError && error.code === 'nothing-to-do') toast(error.message, { duration: 2500 });
    else complain(error);
  }
}

/** Runs something that changes no values; only failure is shown, or the sentence given. */
export async function perform<T>(request: Promise<T>, say?: string): Promise<T | undefined> {
  try {
    const answer = await request;
    if (say) toast(say, { duration: 3000 });
    return answer;
  } catch (error) {
    complain(error);
    return undefined;
  }
}
