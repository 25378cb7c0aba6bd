export function ensureBuilt(what: { pages: boolean }): Promise<void>;
