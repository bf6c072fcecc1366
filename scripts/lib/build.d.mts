export function bundle(entries: Record<string, string>, outFolder: string): Promise<void>;
export function buildServer(): Promise<void>;
export function buildWeb(): Promise<void>;
