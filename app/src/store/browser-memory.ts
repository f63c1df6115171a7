/** What belongs to this tab, and what to the browser. */
export type MemoryOf = 'tab' | 'browser';

const storageOf = (of: MemoryOf): Storage => (of === 'tab' ? sessionStorage : localStorage);

/** What was remembered under a key, or undefined where there is nothing; a private window may refuse, and what is stored may be spoiled. */
export function readMemory(of: MemoryOf, key: string): unknown {
  try {
    return JSON.parse(storageOf(of).getItem(key) ?? 'null') ?? undefined;
  } catch {
    return undefined;
  }
}

/** Remembers something under a key. Remembering is a comfort: where it is refused, the page works without. */
export function writeMemory(of: MemoryOf, key: string, what: unknown): void {
  try {
    storageOf(of).setItem(key, JSON.stringify(what));
  } catch {
    // Refused, or full.
  }
}
