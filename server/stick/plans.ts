/** Plans of sticks that are kept: what was to be on each, before each writing and after it. Undo writes one again. */
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { PlannedFile } from '@early-set/core/stick/plan';

/** So many of a stick are kept; older ones can no longer be written again. */
const KEPT = 40;
const ENDING = '.jsonl';

export interface Plans {
  /** Where it is kept what lies on the stick. */
  writtenFile(stickId: number): string;
  /** A folder for what is in the making. */
  scratch(stickId: number): string;
  keep(stickId: number, id: string, files: readonly PlannedFile[]): Promise<void>;
  /** Null where it is no longer kept. */
  read(stickId: number, id: string): Promise<PlannedFile[] | null>;
  forget(stickId: number): Promise<void>;
}

export function openPlans(dataFolder: string): Plans {
  const of = (stickId: number, name = ''): string => join(dataFolder, 'sticks', String(stickId), name);
  const prune = async (stickId: number): Promise<void> => {
    const names = (await readdir(of(stickId, 'plans'))).filter((name) => name.endsWith(ENDING));
    const aged = await Promise.all(
      names.map(async (name) => ({ name, at: (await stat(of(stickId, join('plans', name)))).mtimeMs })),
    );
    for (const { name } of aged.sort((a, b) => b.at - a.at).slice(KEPT)) await rm(of(stickId, join('plans', name)));
  };
  return {
    writtenFile: (stickId) => of(stickId, 'written.jsonl'),
    scratch: (stickId) => of(stickId, 'making'),
    async keep(stickId, id, files) {
      const path = of(stickId, join('plans', `${id}${ENDING}`));
      await mkdir(of(stickId, 'plans'), { recursive: true });
      await writeFile(`${path}.new`, files.map((file) => `${JSON.stringify(file)}\n`).join(''), { flush: true });
      await rename(`${path}.new`, path);
      await prune(stickId);
    },
    async read(stickId, id) {
      const path = of(stickId, join('plans', `${id}${ENDING}`));
      if (!existsSync(path)) return null;
      const lines = (await readFile(path, 'utf8')).split('\n');
      return lines.filter(Boolean).map((line) => JSON.parse(line) as PlannedFile);
    },
    forget: (stickId) => rm(of(stickId), { recursive: true, force: true }),
  };
}
