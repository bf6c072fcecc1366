/** `node dist/standins/gannet.mjs [--port N] [--recordings FILE]`: starts the index and prints its address. */
import { startGannet } from './service.ts';

const option = (name: string): string | undefined => {
  const at = process.argv.indexOf(name);
  return at > 0 ? process.argv[at + 1] : undefined;
};
const gannet = await startGannet({
  port: Number(option('--port') ?? 0),
  recordingsFile: option('--recordings') ?? null,
});
console.log(`Gannet Index is at ${gannet.address}`);
process.send?.({ address: gannet.address });
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void gannet.stop().then(() => process.exit(0)));
