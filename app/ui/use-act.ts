import { useEffect } from 'react';
import { useFetcher } from 'react-router';
import { toast } from 'sonner';

/** Sends small forms to the action of the page that is shown; what it refuses is told in its words. */
export function useAct(): (values: Record<string, string>) => void {
  const fetcher = useFetcher<{ problem: string | null }>();
  const problem = fetcher.data?.problem;
  useEffect(() => {
    if (problem && fetcher.state === 'idle') toast.error(problem);
  }, [problem, fetcher.state]);
  return (values) => void fetcher.submit(values, { method: 'post' });
}
