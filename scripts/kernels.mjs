/**
 * `npm run kernels`: compiles the loops that see every sample to WebAssembly, as a module that can be bundled
 * anywhere.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { compileKernels } from './lib/kernels.mjs';
import { main, ROOT } from './lib/run.mjs';

main(async () => {
  const target = join(ROOT, 'core/signal/kernels/wasm.ts');
  const text = await compileKernels();
  writeFileSync(target, text);
  console.log(`written: core/signal/kernels/wasm.ts, ${readFileSync(target).length} bytes`);
});
