import { RotateCcw } from 'lucide-react';
import { useCallback, useState } from 'react';
import { useRevalidator } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { rateText } from '~/core/time/rate.ts';
import { toTimecode } from '~/core/time/timecode.ts';
import type { Decision, ShotSummary } from '~/server/shots.ts';
import { actOnJob, useJobs, type Work, worksOf } from '../state/jobs.ts';
import { Button, EmptyNote } from '../ui/controls.tsx';
import { DropFootage } from '../ui/drop-footage.tsx';
import { JoinShots } from '../ui/join-shots.tsx';
import { NameDialog } from '../ui/name-dialog.tsx';
import { PageFrame } from '../ui/page-frame.tsx';
import { RowMenu } from '../ui/row-menu.tsx';
import { WorkControls, WorkProgress } from '../ui/running-jobs.tsx';
import { ShotLink } from '../ui/shot-link.tsx';
import { SwapFootage } from '../ui/swap-footage.tsx';
import { useAct } from '../ui/use-act.ts';
import type { Route } from './+types/production';
import { orErrorPage, orProblem } from './answer.ts';

const requestSchema = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('rename'), id: z.string(), name: z.string() }),
  z.object({ intent: z.enum(['delete', 'restore']), id: z.string() }),
  z.object({ intent: z.literal('swap'), id: z.string(), other: z.string() }),
  z.object({ intent: z.literal('build'), id: z.string() }),
  z.object({ intent: z.literal('decide'), id: z.string(), decision: z.enum(['hold', 'black', 'leave-out', 'take']) }),
]);

/** What can be decided of footage that is damaged. */
const DECISIONS: Record<NonNullable<ShotSummary['asks']>, { decision: Decision; label: string; about: string }[]> = {
  filling: [
    { decision: 'hold', label: 'Hold the one before', about: 'On these frames the picture before is seen; all others keep their places' },
    { decision: 'black', label: 'Show black', about: 'These frames are black; all others keep their places' },
    { decision: 'leave-out', label: 'Leave them out', about: 'The shot is shorter: what is behind moves up, and the numbers with it' },
  ],
  short: [{ decision: 'take', label: 'Take what there is', about: 'The shot is as long as what could be read' }],
};

export const meta: Route.MetaFunction = ({ data }) => [{ title: `${data?.production.name ?? 'Production'} – Mottrel` }];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  orErrorPage(context, async () => {
    const { shots } = context.services;
    const production = await shots.production(params.productionId);
    return { production, shots: await shots.shots(production.id), showable: await shots.showable(production.id) };
  });

export const action = ({ request, context }: Route.ActionArgs) =>
  orProblem(context, async () => {
    const { shots, queue } = context.services;
    const form = requestSchema.parse(Object.fromEntries(await request.formData()));
    if (form.intent === 'rename') await shots.rename(form.id, form.name);
    else if (form.intent === 'decide') await queue.act(await shots.decide(form.id, form.decision), 'resume');
    else if (form.intent === 'swap') await context.services.swapFootage(form.id, form.other);
    else if (form.intent === 'build') await context.services.buildFramesAnew(form.id);
    else await shots.setDeleted(form.id, form.intent === 'delete');
    return form.intent;
  });

export default function ProductionPage({ loaderData }: Route.ComponentProps) {
  const { production, shots, showable } = loaderData;
  const { revalidate } = useRevalidator();
  const [renaming, setRenaming] = useState<{ id: string; name: string } | null>(null);
  const [swapping, setSwapping] = useState<ShotSummary | null>(null);
  const works = worksOf(Object.values(useJobs(useCallback(() => void revalidate(), [revalidate]))));
  const act = useAct();
  const remove = (shot: ShotSummary) => {
    act({ intent: 'delete', id: shot.id });
    toast(`"${shot.name}" was deleted`, { action: { label: 'Undo', onClick: () => act({ intent: 'restore', id: shot.id }) } });
  };

  return (
    <PageFrame trail={[{ label: 'Productions', to: '/' }, { label: production.name }]}>
      <h1 className="mb-4 font-semibold text-xl">{production.name}</h1>
      <DropFootage productionId={production.id} />
      {showable.length > 1 && <JoinShots productionId={production.id} shots={showable} />}
      {shots.length === 0 && <EmptyNote>No shot yet. Each piece of footage that you bring in becomes a shot.</EmptyNote>}
      <ul className="space-y-2" aria-label="Shots">
        {shots.map((shot) => (
          <ShotRow
            key={shot.id}
            shot={shot}
            work={works.find((w) => w.open.some((j) => j.id === shot.jobId))}
            onRename={() => setRenaming({ id: shot.id, name: shot.name })}
            onDelete={() => remove(shot)}
            onSwap={() => setSwapping(shot)}
            onBuild={() => act({ intent: 'build', id: shot.id })}
            onDecide={(decision) => act({ intent: 'decide', id: shot.id, decision })}
          />
        ))}
      </ul>
      <NameDialog
        title="Rename shot"
        label="Name"
        start={renaming?.name}
        confirm="Rename"
        open={renaming !== null}
        onOpenChange={() => setRenaming(null)}
        onName={(name) => renaming && act({ intent: 'rename', id: renaming.id, name })}
      />
      <SwapFootage
        shot={swapping}
        shots={shots}
        onClose={() => setSwapping(null)}
        onSwap={(other) => {
          if (swapping) act({ intent: 'swap', id: swapping.id, other: other.id });
          setSwapping(null);
        }}
      />
    </PageFrame>
  );
}

const stateWords = ({ subjects, composed }: ShotSummary): string =>
  subjects > 0 ? (subjects === 1 ? '1 subject' : `${subjects} subjects`) : composed > 0 ? `${composed} in the lanes` : 'untouched';

/** What is to be known of the footage of a shot, in a line. */
const footageWords = ({ damaged, notes }: ShotSummary): string =>
  [...(damaged > 0 ? [damaged === 1 ? 'One frame is damaged.' : `${damaged} frames are damaged.`] : []), ...notes].join(' ');

interface ShotRowProps {
  shot: ShotSummary;
  work?: Work;
  onRename(): void;
  onDelete(): void;
  onSwap(): void;
  onBuild(): void;
  onDecide(decision: Decision): void;
}

function ShotRow({ shot, work, onRename, onDelete, onSwap, onBuild, onDecide }: ShotRowProps) {
  const ready = shot.state === 'ready';
  return (
    <li className="relative flex items-center gap-4 rounded-lg border border-line bg-panel p-2 focus-within:border-ink hover:border-edge">
      <div className="flex h-20 w-36 shrink-0 items-center justify-center overflow-hidden rounded bg-well">
        {ready ? (
          <img
            src={`/plates/${shot.cover}/proxy/${shot.cover === shot.plateId ? Math.floor((shot.frames ?? 1) / 2) : 0}`}
            alt=""
            className="h-full w-full object-cover"
          />
        ) : (
          <span className="text-quiet text-xs">{shot.asks ? 'To decide' : shot.state === 'failed' ? 'Not usable' : 'Coming in'}</span>
        )}
      </div>
      <div className="min-w-0 flex-1">
        {ready ? (
          <ShotLink shot={shot} className="block truncate font-medium outline-none after:absolute after:inset-0">
            {shot.name}
          </ShotLink>
        ) : (
          <span className="block truncate font-medium">{shot.name}</span>
        )}
        <p className="truncate text-quiet text-sm">{shot.sourceName}</p>
        {shot.state === 'failed' && <p className="text-doubt text-sm">{shot.message ?? 'Bringing it in was cancelled.'}</p>}
        {ready && footageWords(shot) && (
          <p className={`truncate text-xs ${shot.damaged > 0 ? 'text-doubt' : 'text-quiet'}`} title={footageWords(shot)}>
            {footageWords(shot)}
          </p>
        )}
        {shot.state === 'failed' && shot.asks && (
          <div className="mt-2 flex flex-wrap gap-2">
            {DECISIONS[shot.asks].map(({ decision, label, about }) => (
              <Button key={decision} title={about} onClick={() => onDecide(decision)}>
                {label}
              </Button>
            ))}
          </div>
        )}
      </div>
      {work && (
        <div className="relative z-10 flex w-64 items-center gap-2">
          <WorkProgress work={work} />
          <WorkControls work={work} />
        </div>
      )}
      {ready && shot.rate && (
        <dl className="grid grid-cols-[repeat(4,auto)] gap-x-6 text-sm [&_dt]:text-quiet [&_dt]:text-xs">
          <div className="w-24">
            <dt>Size</dt>
            <dd>
              {shot.width}×{shot.height}
            </dd>
          </div>
          <div className="w-28">
            <dt>Length</dt>
            <dd title={`${shot.frames} frames`}>{toTimecode(shot.frames ?? 0, shot.rate)}</dd>
          </div>
          <div className="w-16">
            <dt>Rate</dt>
            <dd>{rateText(shot.rate)}</dd>
          </div>
          <div className="w-24">
            <dt>State</dt>
            <dd>{stateWords(shot)}</dd>
          </div>
        </dl>
      )}
      <span className="relative z-10 flex">
        {shot.state === 'failed' && !shot.asks && shot.jobId && (
          <Button onClick={() => void actOnJob(shot.jobId as string, 'resume').catch((e: Error) => toast.error(e.message))}>
            <RotateCcw className="size-4" aria-hidden /> Try again
          </Button>
        )}
        <RowMenu
          name={shot.name}
          onRename={onRename}
          onDelete={onDelete}
          more={[
            ...(ready && shot.cover === shot.plateId ? [{ label: 'Swap footage …', act: onSwap }] : []),
            ...(ready ? [{ label: 'Build its frames anew', act: onBuild }] : []),
          ]}
        />
      </span>
    </li>
  );
}
