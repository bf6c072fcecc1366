/** AssemblyScript to WebAssembly, in memory. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
import { ROOT } from './run.mjs';

/**
 * Compiles a file of a folder, with what it imports from there.
 * @throws Error with what the compiler says
 */
export async function compileAssembly(folder, entry) {
  const sources = join(ROOT, folder);
  let binary = null;
  const { error, stderr } = await asc.main(
    [
      entry,
      '--outFile',
      'out.wasm',
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
      readFile: (name) => (existsSync(join(sources, name)) ? readFileSync(join(sources, name), 'utf8') : null),
      writeFile: (name, contents) => {
        if (name === 'out.wasm') binary = contents;
      },
      listFiles: () => [],
    },
  );
  if (error || !binary) throw new Error(`${stderr.toString()}\n${error?.message ?? 'nothing was written'}`);
  return binary;
}

/** The text of the module that holds the compiled kernels. */
export async function compileKernels() {
  const text = Buffer.from(await compileAssembly('core/signal/kernels/assembly', 'kernels.ts'))
    .toString('base64')
    .replace(/.{1,160}/g, (part) => `  '${part}',\n`);
  return `/** The compiled kernels (assembly/kernels.ts), in base64; written by \`npm run kernels\`. */\nexport const KERNELS_WASM = [\n${text}].join('');\n`;
}
