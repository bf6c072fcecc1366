/** `node dist/standins/whimbrel.mjs [--port N] [--recordings FILE]`: starts the index and prints its address. */
import { parseArgs } from 'node:util';
import { startWhimbrel } from './service.ts';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '0' }, recordings: { type: 'string' } },
});
const whimbrel = await startWhimbrel({
  port: Number(values.port),
  recordingsFile: values.recordings ?? null,
});
console.log(`Whimbrel Index is at ${whimbrel.address}`);
process.send?.({ address: whimbrel.address });
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void whimbrel.stop().then(() => process.exit(0)));
