import { buildServer, buildWeb } from './lib/build.mjs';
import { main } from './lib/run.mjs';
import { setup } from './lib/setup.mjs';

main(async () => {
  await setup();
  await buildServer();
  await buildWeb();
});
