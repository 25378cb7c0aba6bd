/** What the browser keeps of how somebody works, over reloads; not of the work itself. */
import type { z } from 'zod';

/** What was kept under a name; `otherwise` where there is nothing, or nothing that can be read. */
export function keptIn<T>(name: string, schema: z.ZodType<T>, otherwise: T): T {
  try {
    const text = localStorage.getItem(name);
    return text === null ? otherwise : schema.parse(JSON.parse(text));
  } catch {
    return otherwise;
  }
}

/** Keeps something; in a browser that keeps nothing it holds until the page is left. */
export function keepIn(name: string, value: unknown): void {
  try {
    localStorage.setItem(name, JSON.stringify(value));
  } catch {
    // Nothing of the artist's is lost with it.
  }
}
