/** `npm run check`: what this installation needs, and what is wrong with it, in sentences. */
import { checkDatabase } from './health/database.ts';
import type { Finding } from './health/finding.ts';
import { checkFolder } from './health/places.ts';
import { checkFfmpeg } from './health/programs.ts';

const LEAST_NODE = [20, 11] as const;

export function checkNode(version: string): Finding {
  const [major = 0, minor = 0] = version.split('.').map(Number);
  const isOld = major < LEAST_NODE[0] || (major === LEAST_NODE[0] && minor < LEAST_NODE[1]);
  const trouble = isOld ? `Early Set needs Node.js ${LEAST_NODE.join('.')} or later.` : null;
  return { about: 'Node.js', trouble, note: version };
}

/** @param databaseUrl null: there is no database yet */
export async function checkAll(databaseUrl: string | null, dataFolder: string): Promise<Finding[]> {
  return [
    checkNode(process.versions.node),
    await checkFfmpeg(),
    await checkFolder('Data folder', dataFolder, true),
    ...(databaseUrl === null
      ? [{ about: 'Database', trouble: null, note: 'it is made at the first start' }]
      : await checkDatabase(databaseUrl, dataFolder)),
  ];
}

/** As lines; what is wrong stands out. */
export const inLines = (findings: readonly Finding[]): string[] =>
  findings.map(({ about, trouble, note }) =>
    trouble === null ? `ok  ${about}: ${note}` : `!!  ${about}: ${trouble}${note ? ` (${note})` : ''}`,
  );
