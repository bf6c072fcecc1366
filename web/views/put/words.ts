/** What files are called where they are put, in words. */
import type { PutNames } from '@early-set/core/files/put';

export const PUT_NAME_WORDS: Record<PutNames, string> = {
  own: 'as they are, without folders',
  'with folders': 'with the folders they lie in',
  'by rules': 'by the naming rules',
};
