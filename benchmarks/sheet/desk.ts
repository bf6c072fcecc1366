/** The desk in a process of its own, as `npm start` has it; says its address to who forked it. */
import { start } from '../../server/main.ts';

const server = await start({
  databaseUrl: process.env.BENCH_DESK_DATABASE!,
  dataFolder: process.env.BENCH_DESK_DATA!,
  webFolder: process.env.BENCH_WEB ?? null,
  threadFolder: new URL(`file://${process.env.BENCH_THREADS!}/`),
  port: 0,
  demoRoot: null,
  compare: false,
});
process.on('SIGTERM', () => void server.stop().finally(() => process.exit(0)));
process.send!(server.address);
