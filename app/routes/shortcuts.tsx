import { SHORTCUTS, VIEWER_KEYS } from '../state/shortcuts.ts';
import { PageFrame } from '../ui/page-frame.tsx';
import type { Route } from './+types/shortcuts';

export const meta: Route.MetaFunction = () => [{ title: 'Keyboard shortcuts – Mottrel' }];

export default function Shortcuts() {
  const groups = [
    ...SHORTCUTS.map(({ group, items }) => ({ group, rows: Object.values(items).map(({ keys, does }) => [keys, does] as [string, string]) })),
    { group: 'In the viewer, while it has the focus', rows: VIEWER_KEYS },
  ];
  return (
    <PageFrame trail={[{ label: 'Productions', to: '/' }, { label: 'Keyboard shortcuts' }]}>
      <h1 className="mb-5 font-semibold text-xl">Keyboard shortcuts</h1>
      <div className="columns-1 gap-10 md:columns-2">
        {groups.map(({ group, rows }) => (
          <section key={group} className="mb-6 break-inside-avoid">
            <h2 className="mb-1 font-semibold text-sm">{group}</h2>
            <dl className="divide-y divide-line text-sm">
              {rows.map(([keys, does]) => (
                <div key={keys} className="flex gap-4 py-1.5">
                  <dt className="w-36 shrink-0 font-mono text-xs leading-5">{keys}</dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
      <p className="text-quiet text-sm">
        On a Mac, Ctrl is the command key. In the Sheet, Down and Up go to the next frame and the one before; in the Ribbon, Left and Right do.
      </p>
    </PageFrame>
  );
}
