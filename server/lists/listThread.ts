/** Thread in which lists are written, so that a template which takes long holds nobody up. */
import { TemplateError } from '@early-set/core/exchange/line';
import type { ListedTrack, ListFormatId, WriteOptions } from '@early-set/core/exchange/listFile';
import { writeList } from '@early-set/core/exchange/writeList';
import { writeListWorkbook } from './workbook.ts';

export interface ListWish {
  tracks: ListedTrack[];
  format: ListFormatId | 'xlsx';
  options: WriteOptions;
}
/** A list is text, a workbook bytes. */
export type Written<F extends ListWish['format']> = F extends 'xlsx' ? Uint8Array : string;
export type ListAnswer = { content: string | Uint8Array } | { badTemplate: string };

export default async function write({ tracks, format, options }: ListWish): Promise<ListAnswer> {
  try {
    return {
      content: format === 'xlsx' ? await writeListWorkbook(tracks, options) : writeList(tracks, format, options),
    };
  } catch (error) {
    if (error instanceof TemplateError) return { badTemplate: error.message };
    throw error;
  }
}
