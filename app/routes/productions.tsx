import { FolderPlus } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { GUIDES } from '~/core/guides/guides.ts';
import type { RecentShot } from '~/server/overview.ts';
import { BENCHES } from '../state/benches.ts';
import { startGuide } from '../state/guide.ts';
import { ingestEnd, useJobs } from '../state/jobs.ts';
import { send } from '../state/send.ts';
import { Button, EmptyNote } from '../ui/controls.tsx';
import { DropFootage } from '../ui/drop-footage.tsx';
import { NameDialog } from '../ui/name-dialog.tsx';
import { PageFrame } from '../ui/page-frame.tsx';
import { RowMenu } from '../ui/row-menu.tsx';
import { ShotLink, useLeftOff } from '../ui/shot-link.tsx';
import { useAct } from '../ui/use-act.ts';
import type { Route } from './+types/productions';
import { orErrorPage, orProblem } from './answer.ts';

const formSchema = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('create'), name: z.string() }),
  z.object({ intent: z.literal('rename'), id: z.string(), name: z.string() }),
  z.object({ intent: z.enum(['delete', 'restore']), id: z.string() }),
]);

const RECENT = 6;

export const meta: Route.MetaFunction = () => [{ title: 'Mottrel' }];
export const loader = ({ context }: Route.LoaderArgs) =>
  orErrorPage(context, async () => ({ productions: await context.services.shots.productions(), recent: await context.services.recent(RECENT) }));

export const action = ({ request, context }: Route.ActionArgs) =>
  orProblem(context, async () => {
    const { shots } = context.services;
    const form = formSchema.parse(Object.fromEntries(await request.formData()));
    if (form.intent === 'create') await shots.createProduction(form.name);
    else if (form.intent === 'rename') await shots.renameProduction(form.id, form.name);
    else await shots.setProductionDeleted(form.id, form.intent === 'delete');
    return form.intent;
  });

export default function StartPage({ loaderData }: Route.ComponentProps) {
  const { productions, recent } = loaderData;
  const [making, setMaking] = useState(false);
  const [renaming, setRenaming] = useState<{ id: string; name: string } | null>(null);
  const [opening, setOpening] = useState<string | null>(null);
  const act = useAct();
  const navigate = useNavigate();
  useJobs();

  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);

  /** Opens a shot as soon as its footage is in, unless another page was gone to meanwhile. */
  const openWhenIn = async (shotId: string, name: string, { query = '', productionId }: { query?: string; productionId?: string } = {}) => {
    setOpening(name);
    const job = await ingestEnd(shotId);
    if (!here.current) return;
    if (job.state === 'done') navigate(`/shots/${shotId}/isolate${query}`);
    else {
      setOpening(null);
      // Its production says why, and what can be decided.
      if (job.state === 'failed' && productionId) navigate(`/productions/${productionId}`);
      else if (job.state === 'failed') toast.error(job.message ?? 'The footage could not be brought in.', { duration: 15_000 });
    }
  };
  const onShots = (shotIds: string[], productionId: string) => {
    if (shotIds.length === 1) void openWhenIn(shotIds[0], 'your shot', { productionId });
    else navigate(`/productions/${productionId}`);
  };
  const tryGuide = async (id: string, title: string) => {
    try {
      const { shotId, ready } = await send<{ shotId: string; ready: boolean }>(`/guides/${id}`, { method: 'POST' });
      if (ready) navigate(`/shots/${shotId}/isolate?guide=${id}`);
      else await openWhenIn(shotId, title, { query: `?guide=${id}` });
    } catch (error) {
      toast.error((error as Error).message);
    }
  };

  return (
    <PageFrame
      trail={[]}
      actions={
        <Link to="/deleted" className="text-quiet text-sm hover:text-ink">
          Deleted
        </Link>
      }
    >
      <h1 className="font-semibold text-2xl">Isolate what moves, and put things behind it</h1>
      <p className="mt-1 mb-5 max-w-3xl text-quiet">
        Mottrel cuts a moving subject out of footage, frame by frame, from a few strokes, a curve or a track. What you put into a lane behind, inside or in
        front of it stays there with no other step.
      </p>
      <DropFootage productionId={null} onShots={onShots} large />
      {opening && (
        <p role="status" className="-mt-3 mb-6 text-sm">
          Bringing the footage in; {opening} opens by itself …
        </p>
      )}

      {recent.length > 0 && (
        <section aria-labelledby="recent" className="mb-8">
          <h2 id="recent" className="mb-3 font-semibold text-lg">
            Go on with
          </h2>
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(20rem,1fr))] gap-3">
            {recent.map((shot) => (
              <RecentRow key={shot.id} shot={shot} />
            ))}
          </ul>
        </section>
      )}

      <section aria-labelledby="guides" className="mb-8">
        <h2 id="guides" className="mb-1 font-semibold text-lg">
          Guides
        </h2>
        <p className="mb-3 text-quiet text-sm">
          Steps beside the work that tick themselves off. Try one on the demo film, or choose one and bring in footage of your own.
        </p>
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(12.5rem,1fr))] gap-3">
          {GUIDES.map((guide) => (
            <li key={guide.id} className="flex flex-col rounded-lg border border-line bg-panel p-3">
              <h3 className="font-medium">{guide.title}</h3>
              <p className="flex-1 pt-1 pb-3 text-quiet text-sm">{guide.about}</p>
              <div className="flex flex-wrap gap-1">
                <Button
                  className="!px-2"
                  aria-label={`Try it on the demo: ${guide.title}`}
                  disabled={opening !== null}
                  onClick={() => void tryGuide(guide.id, guide.title)}
                >
                  On the demo
                </Button>
                <Button
                  tone="bare"
                  className="!px-2"
                  aria-label={`With my footage: ${guide.title}`}
                  onClick={() => {
                    startGuide(guide.id);
                    toast(`"${guide.title}" goes beside the next shot that you open: bring in footage above.`);
                  }}
                >
                  My footage
                </Button>
              </div>
            </li>
          ))}
        </ul>
      </section>

      <div className="mb-3 flex items-center justify-between">
        <h2 className="font-semibold text-lg">Productions</h2>
        <Button onClick={() => setMaking(true)}>
          <FolderPlus className="size-4" aria-hidden /> New production
        </Button>
      </div>
      {productions.length === 0 && (
        <EmptyNote>No production yet. A production is a set of shots that belong together; footage that you drop above makes one by itself.</EmptyNote>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-4">
        {productions.map((p) => (
          <li key={p.id} className="group relative overflow-hidden rounded-lg border border-line bg-panel focus-within:border-ink hover:border-edge">
            <div className="flex h-28 bg-well">
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

/** How far the work on a shot is, in few words. */
function progressWords({ subjects, composed, approved, doubtful, found, frames }: RecentShot): string {
  if (subjects === 0 && composed === 0) return 'untouched';
  const words = [
    subjects === 0 ? null : subjects === 1 ? '1 subject' : `${subjects} subjects`,
    found !== null && found < frames ? `${found} of ${frames} frames found` : null,
    doubtful > 0 ? `${doubtful} doubtful` : null,
    approved > 0 ? `${approved} of ${frames} approved` : null,
    composed > 0 ? `${composed} in the lanes` : null,
  ];
  return words.filter(Boolean).join(', ');
}

function RecentRow({ shot }: { shot: RecentShot }) {
  const left = useLeftOff(shot.id);
  const frame = left?.frame ?? shot.shows;
  const where = left && `left on ${BENCHES.find((b) => b.id === left.bench)?.label}, frame ${left.frame + shot.firstNumber}`;
  return (
    <li className="relative flex gap-3 rounded-lg border border-line bg-panel p-2 focus-within:border-ink hover:border-edge">
      <img src={`/plates/${shot.plateId}/proxy/${frame}`} alt="" className="h-20 w-36 shrink-0 rounded bg-well object-cover" />
      <div className="min-w-0 flex-1">
        <ShotLink shot={shot} className="block truncate font-medium outline-none after:absolute after:inset-0">
          {shot.name}
        </ShotLink>
        <p className="truncate text-quiet text-xs">{shot.production.name}</p>
        <p className="pt-1 text-xs leading-snug">{progressWords(shot)}</p>
        {where && <p className="truncate text-quiet text-xs">{where}</p>}
      </div>
      {shot.approved > 0 && (
        <span className="absolute inset-x-2 bottom-0.5 h-0.5 rounded bg-line" aria-hidden>
          <span className="block h-full rounded bg-ink" style={{ width: `${(100 * shot.approved) / shot.frames}%` }} />
        </span>
      )}
    </li>
  );
}
