/** What is looked for once nothing has changed for a while. */
import { useEffect, useState } from 'react';

/**
 * The last answer that came; null before the first one. An answer to what has changed since counts for nothing, and where there is none
 * the one before it stands.
 * @param rest milliseconds that nothing changes before it is asked
 * @param ask stays the same as long as what it asks does
 */
export function useLooked<T>(rest: number, ask: () => Promise<T> | undefined): T | null {
  const [found, setFound] = useState<T | null>(null);
  useEffect(() => {
    let left = false;
    const timer = setTimeout(() => {
      ask()?.then(
        (answer) => !left && setFound(answer),
        () => {},
      );
    }, rest);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [rest, ask]);
  return found;
}
