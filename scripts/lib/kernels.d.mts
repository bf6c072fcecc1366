/** Compiles a file of a folder, with what it imports from there. @throws Error with what the compiler says */
export function compileAssembly(folder: string, entry: string): Promise<Uint8Array>;

/** The text of the module that holds the compiled kernels. */
export function compileKernels(): Promise<string>;
