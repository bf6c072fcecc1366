/**
 * A list of checksums as `sha256sum` writes and checks it (GNU coreutils): a line is the sum, two spaces and the name.
 * One that begins with a backslash has "\n" for a line break, "\r" for a return, "\\" for a backslash in its name.
 */

export const SUMS_FILE = 'early-set.sha256';

const ESCAPES: Record<string, string> = { '\\': '\\\\', '\n': '\\n', '\r': '\\r' };

export function sumLine({ path, sha256 }: { path: string; sha256: string }): string {
  const escaped = path.replace(/[\\\n\r]/g, (odd) => ESCAPES[odd]!);
  return `${escaped === path ? '' : '\\'}${sha256}  ${escaped}\n`;
}

/** Lines that are none are passed over. */
export function readSums(text: string): { path: string; sha256: string }[] {
  return text.split('\n').flatMap((line) => {
    const [, escaped, sha256, name] = /^(\\?)([0-9a-f]{64}) [ *](.+)$/s.exec(line) ?? [];
    if (sha256 === undefined || name === undefined) return [];
    const path = escaped
      ? name.replace(/\\([\\nr])/g, (_, odd: string) => (odd === 'n' ? '\n' : odd === 'r' ? '\r' : '\\'))
      : name;
    return [{ path, sha256 }];
  });
}
