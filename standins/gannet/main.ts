/** `node dist/standins/gannet.mjs [--port N] [--recordings FILE]`: starts the index and prints its address. */
import { parseArgs } from 'node:util';
import { startGannet } from './service.ts';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '0' }, recordings: { type: 'string' } },
});
const gannet = await startGannet({
  port: Number(values.port),
  recordingsFile: values.recordings ?? null,
});
console.log(`Gannet Index is at ${gannet.address}`);
process.send?.({ address: gannet.address });
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void gannet.stop().then(() => process.exit(0)));
