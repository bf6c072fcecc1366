import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';

/** A port that is free now. @throws where it is taken, or the address is none of this computer */
export function freePort(wanted = 0, host = '127.0.0.1') {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen({ port: wanted, host }, () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}

/** Reads and keeps small settings of a data folder (ports, the database password). */
export function settingsOf(dataFolder) {
  const file = join(dataFolder, 'settings.json');
  const stored = () => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {});
  const values = stored();
  return {
    values,
    save: (more) => {
      Object.assign(values, stored(), more);
      mkdirSync(dataFolder, { recursive: true });
      writeFileSync(file, JSON.stringify(values, null, 2), { mode: 0o600 });
    },
  };
}
