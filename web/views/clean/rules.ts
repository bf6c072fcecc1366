/** Rules of one's own, in a sandbox: QuickJS without files, network or clock, with limits of time and memory. */
import { newQuickJSWASMModuleFromVariant, type QuickJSWASMModule } from 'quickjs-emscripten-core';
import variant from '@jitl/quickjs-wasmfile-release-sync';
import { StepStopped, type RuleRunner } from '@early-set/core/clean/runSteps';

const MEMORY_BYTES = 32 * 2 ** 20,
  /** So little that the sandbox notices before the stack of the worker ends: hundreds of calls within calls. */
  STACK_BYTES = 128 * 1024;
/** For one track; a rule that needs longer goes round in circles. */
const TRACK_MS = 250;
/** For all tracks together. */
const RULE_MS = 10_000;

let loading: Promise<QuickJSWASMModule> | null = null;
const load = (): Promise<QuickJSWASMModule> => (loading ??= newQuickJSWASMModuleFromVariant(variant));

export interface Rules {
  runner: RuleRunner;
  close(): void;
}

/** Opens the sandbox. Everything that is made in it goes when it is closed. */
export async function openRules(): Promise<Rules> {
  const quickjs = await load();
  const runtime = quickjs.newRuntime();
  runtime.setMemoryLimit(MEMORY_BYTES);
  runtime.setMaxStackSize(STACK_BYTES);
  const context = runtime.newContext();
  let until = 0,
    used = 0;
  /** Why the sandbox can be used no more. */
  let broken: StepStopped | null = null;
  runtime.setInterruptHandler(() => Date.now() > until);
  const said = (text: string): Error => new Error(text);
  /** Evaluates text and gives its value as JSON. @throws Error with the line of the rule */
  const evaluate = (text: string): string => {
    if (broken) throw broken;
    const began = Date.now();
    until = began + TRACK_MS;
    let result: ReturnType<typeof context.evalCode>;
    try {
      result = context.evalCode(text, 'rule');
    } catch {
      // The sandbox itself broke off, and what it holds cannot be freed: it is left, and the next is a new one.
      loading = null;
      throw (broken = new StepStopped('The rule broke the sandbox it runs in and was stopped'));
    }
    used += Date.now() - began;
    if (used > RULE_MS) {
      (result.error ?? result.value).dispose();
      throw new StepStopped(`The rule took longer than ${RULE_MS / 1000} s for all tracks and was stopped`);
    }
    if (result.error) {
      const error = (context.dump(result.error) ?? {}) as { name?: string; message?: string; stack?: string };
      result.error.dispose();
      if (error.message === 'interrupted')
        throw new StepStopped(`The rule took longer than ${TRACK_MS} ms for one track and was stopped`);
      const line = /rule:(\d+)/.exec(error.stack ?? '')?.[1];
      // Two lines stand before the rule's own.
      throw said(`${line ? `Line ${Math.max(1, Number(line) - 1)}: ` : ''}${error.message ?? 'the rule broke'}`);
    }
    const value = context.getString(result.value);
    result.value.dispose();
    return value;
  };
  return {
    runner(source) {
      // The last value counts: an object with the fields that change, or nothing.
      evaluate(`globalThis.__rule = (track) => {\n${source}\n}; ''`);
      return (track) => {
        const answer = evaluate(
          `(() => { const made = __rule(${JSON.stringify(track)}); return JSON.stringify(made === undefined || made === null ? {} : made); })()`,
        );
        const made: unknown = JSON.parse(answer);
        if (typeof made !== 'object' || made === null || Array.isArray(made))
          throw said('The rule has to give back an object: return { title: … }');
        return made as Record<string, unknown>;
      };
    },
    close() {
      if (broken) return;
      context.dispose();
      runtime.dispose();
    },
  };
}
