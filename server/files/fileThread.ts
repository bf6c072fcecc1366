/** Thread for work on files. */
import { workOnFile } from './fileWork.ts';

export default workOnFile;
