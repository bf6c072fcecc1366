/** AssemblyScript to WebAssembly, in memory. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
import { ROOT } from './run.mjs';

const SOURCES = join(ROOT, 'core/signal/kernels/assembly');

/** The text of the module that holds the compiled kernels. @throws Error with what the compiler says */
export async function compileKernels() {
  let binary = null;
  const { error, stderr } = await asc.main(
    [
      'kernels.ts',
      '--outFile',
      'kernels.wasm',
      '-O3',
      '--noAssert',
      '--converge',
      '--runtime',
      'stub',
      '--importMemory',
      '--enable',
      'simd',
      '--use',
      'abort=',
    ],
    {
      readFile: (name) => (existsSync(join(SOURCES, name)) ? readFileSync(join(SOURCES, name), 'utf8') : null),
      writeFile: (name, contents) => {
        if (name === 'kernels.wasm') binary = contents;
      },
      listFiles: () => [],
    },
  );
  if (error || !binary) throw new Error(`${stderr.toString()}\n${error?.message ?? 'nothing was written'}`);
  const text = Buffer.from(binary)
    .toString('base64')
    .replace(/.{1,160}/g, (part) => `  '${part}',\n`);
  return `/** The compiled kernels (assembly/kernels.ts), in base64; written by \`npm run kernels\`. */\nexport const KERNELS_WASM = [\n${text}].join('');\n`;
}
