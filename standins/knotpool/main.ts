/** `node dist/standins/knotpool.mjs --folder FOLDER [--port N]`: opens the pool and prints its address. */
import { parseArgs } from 'node:util';
import { startKnotPool } from './service.ts';

const { values } = parseArgs({ options: { folder: { type: 'string' }, port: { type: 'string', default: '0' } } });
if (!values.folder) {
  console.error('usage: knotpool --folder FOLDER [--port N]');
  process.exit(2);
}
const pool = await startKnotPool({ folder: values.folder, port: Number(values.port) });
console.log(`Knot Pool is at ${pool.address}`);
process.send?.({ address: pool.address });
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void pool.stop().then(() => process.exit(0)));
