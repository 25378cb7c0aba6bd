import { FolderPlus } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { Button, EmptyNote } from '../ui/controls.tsx';
import { NameDialog } from '../ui/name-dialog.tsx';
import { PageFrame } from '../ui/page-frame.tsx';
import { RowMenu } from '../ui/row-menu.tsx';
import { useAct } from '../ui/use-act.ts';
import type { Route } from './+types/productions';
import { orErrorPage, orProblem } from './answer.ts';

const wish = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('create'), name: z.string() }),
  z.object({ intent: z.literal('rename'), id: z.string(), name: z.string() }),
  z.object({ intent: z.enum(['delete', 'restore']), id: z.string() }),
]);

export const meta: Route.MetaFunction = () => [{ title: 'Productions – Mottrel' }];
export const loader = ({ context }: Route.LoaderArgs) => orErrorPage(async () => ({ productions: await context.services.shots.productions() }));

export const action = ({ request, context }: Route.ActionArgs) =>
  orProblem(async () => {
    const { shots } = context.services;
    const form = wish.parse(Object.fromEntries(await request.formData()));
    if (form.intent === 'create') await shots.createProduction(form.name);
    else if (form.intent === 'rename') await shots.renameProduction(form.id, form.name);
    else await shots.setProductionDeleted(form.id, form.intent === 'delete');
    return form.intent;
  });

export default function Productions({ loaderData }: Route.ComponentProps) {
  const [making, setMaking] = useState(false);
  const [renaming, setRenaming] = useState<{ id: string; name: string } | null>(null);
  const act = useAct();

  return (
    <PageFrame
      trail={[{ label: 'Productions' }]}
      actions={
        <Link to="/deleted" className="text-quiet text-sm hover:text-ink">
          Deleted
        </Link>
      }
    >
      <div className="mb-5 flex items-center justify-between">
        <h1 className="font-semibold text-xl">Productions</h1>
        <Button tone="strong" onClick={() => setMaking(true)}>
          <FolderPlus className="size-4" aria-hidden /> New production
        </Button>
      </div>
      {loaderData.productions.length === 0 && (
        <EmptyNote>No production yet. A production is a set of shots that belong together: make one, then drop footage into it.</EmptyNote>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-4">
        {loaderData.productions.map((p) => (
          <li key={p.id} className="group relative overflow-hidden rounded-lg border border-line bg-panel focus-within:border-ink hover:border-edge">
            <div className="flex h-36 bg-well">
              {p.plateIds.length === 0 && <span className="m-auto text-quiet text-sm">No footage yet</span>}
              {p.plateIds.map((plate) => (
                <img
                  key={plate}
                  src={`/plates/${plate}/proxy/0`}
                  alt=""
                  className="h-full min-w-0 flex-1 object-cover"
                  onError={(e) => e.currentTarget.remove()}
                />
              ))}
            </div>
            <div className="flex items-center gap-2 p-3">
              <Link to={`/productions/${p.id}`} className="min-w-0 flex-1 truncate font-medium outline-none after:absolute after:inset-0">
                {p.name}
              </Link>
              <span className="text-quiet text-sm">{p.shots === 1 ? '1 shot' : `${p.shots} shots`}</span>
              <RowMenu
                name={p.name}
                onRename={() => setRenaming({ id: p.id, name: p.name })}
                onDelete={() => {
                  act({ intent: 'delete', id: p.id });
                  toast(`"${p.name}" was deleted`, { action: { label: 'Undo', onClick: () => act({ intent: 'restore', id: p.id }) } });
                }}
              />
            </div>
          </li>
        ))}
      </ul>
      <NameDialog
        title="New production"
        label="Name"
        confirm="Make it"
        open={making}
        onOpenChange={setMaking}
        onName={(name) => act({ intent: 'create', name })}
      />
      <NameDialog
        title="Rename production"
        label="Name"
        start={renaming?.name}
        confirm="Rename"
        open={renaming !== null}
        onOpenChange={() => setRenaming(null)}
        onName={(name) => renaming && act({ intent: 'rename', id: renaming.id, name })}
      />
    </PageFrame>
  );
}
