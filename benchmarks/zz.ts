import { readFileSync } from 'node:fs';
import { lookedAt } from './sheet/page.ts';
const s = await lookedAt(readFileSync('/tmp/desk.addr', 'utf8'));
s.jumps.sort((a, b) => a - b);
console.log(s.jumps.map((x) => x.toFixed(0)).join(' '), s.memory);
