/** A strip over every page while the server, its database or its news do not answer. */
import { CloudOff } from 'lucide-react';
import { useEffect } from 'react';
import { listen } from '../state/event-stream.ts';
import { outageWords, useLink } from '../state/link.ts';

const clock = (at: number) => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

export function LinkNotice() {
  useEffect(() => listen({}), []);
  const { outage, since, unsent } = useLink();
  const words = outage && outageWords(outage, unsent);
  return (
    <div role="status" aria-label="Connection" data-outage={outage ?? 'none'}>
      {words && (
        <p className="flex min-h-9 items-center gap-2 border-doubt border-b-2 bg-well px-4 py-1.5 text-sm">
          <CloudOff className="size-4 shrink-0 text-doubt" aria-hidden />
          <span>
            <b className="font-semibold text-doubt">{words.what}</b> {words.next} <span className="text-quiet">Since {clock(since)}.</span>
          </span>
        </p>
      )}
    </div>
  );
}
