/** The text of the module that holds the compiled kernels. @throws Error with what the compiler says */
export function compileKernels(): Promise<string>;
