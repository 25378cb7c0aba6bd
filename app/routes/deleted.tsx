import { Undo2 } from 'lucide-react';
import { useFetcher } from 'react-router';
import { z } from 'zod';
import { Button, EmptyNote } from '../ui/controls.tsx';
import { PageFrame } from '../ui/page-frame.tsx';
import type { Route } from './+types/deleted';
import { orErrorPage, orProblem } from './answer.ts';

const requestSchema = z.object({ kind: z.enum(['shot', 'production']), id: z.string() });

export const meta: Route.MetaFunction = () => [{ title: 'Deleted – Mottrel' }];
export const loader = ({ context }: Route.LoaderArgs) =>
  orErrorPage(context, async () => ({ ...(await context.services.shots.deleted()), days: context.services.config.keepDeletedDays }));

export const action = ({ request, context }: Route.ActionArgs) =>
  orProblem(context, async () => {
    const { kind, id } = requestSchema.parse(Object.fromEntries(await request.formData()));
    if (kind === 'shot') await context.services.shots.setDeleted(id, false);
    else await context.services.shots.setProductionDeleted(id, false);
    return id;
  });

export default function Deleted({ loaderData }: Route.ComponentProps) {
  const fetcher = useFetcher<typeof action>();
  const rows = [
    ...loaderData.productions.map((p) => ({ ...p, kind: 'production' as const, where: 'Production' })),
    ...loaderData.shots.map((s) => ({ ...s, kind: 'shot' as const, where: `Shot of ${s.production}` })),
  ];
  return (
    <PageFrame trail={[{ label: 'Productions', to: '/' }, { label: 'Deleted' }]}>
      <h1 className="mb-2 font-semibold text-xl">Deleted</h1>
      <p className="mb-5 text-quiet text-sm">What was deleted is kept for {loaderData.days} days, footage included, and can be brought back until then.</p>
      {fetcher.data?.problem && <p role="alert">{fetcher.data.problem}</p>}
      {rows.length === 0 && <EmptyNote>Nothing was deleted lately.</EmptyNote>}
      <ul className="space-y-2">
        {rows.map((row) => (
          <li key={row.id} className="flex items-center gap-4 rounded-lg border border-line bg-panel px-3 py-2">
            <span className="min-w-0 flex-1 truncate">{row.name}</span>
            <span className="text-quiet text-sm">{row.where}</span>
            <time className="text-quiet text-sm" dateTime={row.deletedAt}>
              {row.deletedAt.slice(0, 16).replace('T', ' ')} UTC
            </time>
            <Button onClick={() => void fetcher.submit({ kind: row.kind, id: row.id }, { method: 'post' })}>
              <Undo2 className="size-4" aria-hidden /> Bring back
            </Button>
          </li>
        ))}
      </ul>
    </PageFrame>
  );
}
